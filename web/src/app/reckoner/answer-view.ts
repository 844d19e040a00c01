import { ChangeDetectionStrategy, Component, computed, forwardRef, input } from '@angular/core';
import { inWords, nameOf } from '../ui/schema-form/schema.ts';
import { sayFigure, type Figure } from './say-figure.ts';

const ROWS = 200;

/** An answer of a calculation: figures with their units, tables for lists of alike things. */
@Component({
  selector: 'app-answer-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [forwardRef(() => AnswerView)],
  template: `
    @switch (kind()) {
      @case ('object') {
        <dl>
          @for (field of fields(); track field.key) {
            <dt>{{ field.words }}</dt>
            <dd [class.figure]="!field.isNested">
              @if (field.isNested) {
                <app-answer-view [value]="field.value" />
              } @else {
                <span [attr.title]="whole(field.value)"
                  ><b>{{ field.said.text }}</b> {{ field.said.unit }}</span
                >
              }
            </dd>
          }
        </dl>
      }
      @case ('table') {
        <div class="wide">
          <table class="sheet">
            <thead>
              <tr>
                @for (column of columns(); track column.key) {
                  <th scope="col">{{ column.words }}{{ column.unit ? ', ' + column.unit : '' }}</th>
                }
              </tr>
            </thead>
            <tbody>
              @for (row of rows(); track $index) {
                <tr>
                  @for (cell of row; track $index) {
                    <td class="figure">{{ cell }}</td>
                  }
                </tr>
              }
            </tbody>
          </table>
        </div>
        @if (surplus() > 0) {
          <p class="muted">and {{ surplus() }} more</p>
        }
      }
      @default {
        <span class="figure">{{ say(value()) }}</span>
      }
    }
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: auto minmax(0, 1fr);
      gap: 8px 18px;
      align-items: baseline;
      margin: 0;
    }
    dt {
      color: var(--fog);
    }
    dt::first-letter {
      text-transform: uppercase;
    }
    dd {
      margin: 0;
      font-size: 20px;
      overflow-wrap: anywhere;
    }
    app-answer-view {
      font-size: 16px;
    }
    .wide {
      overflow-x: auto;
    }
  `,
})
export class AnswerView {
  readonly value = input.required<unknown>();

  protected readonly kind = computed(() => {
    const value = this.value();
    if (Array.isArray(value)) return value.length > 0 && value.every(isRecord) ? 'table' : 'plain';
    return isRecord(value) ? 'object' : 'plain';
  });
  protected readonly fields = computed(() =>
    Object.entries(this.value() as Record<string, unknown>).map(([key, value]) => ({
      ...{ key, value, words: wordsOf(key) },
      said: this.figure(key, value),
      isNested: isRecord(value) || (Array.isArray(value) && value.some(isRecord)),
    })),
  );
  protected readonly columns = computed(() => {
    const keys = new Set((this.value() as Record<string, unknown>[]).slice(0, ROWS).flatMap((row) => Object.keys(row)));
    return [...keys].map((key) => ({ key, words: wordsOf(key), unit: /share$/i.test(key) ? '%' : nameOf(key).unit }));
  });
  protected readonly rows = computed(() =>
    (this.value() as Record<string, unknown>[]).slice(0, ROWS).map((row) => this.columns().map((c) => this.cell(row[c.key], c))),
  );
  protected readonly surplus = computed(() => (this.value() as unknown[]).length - ROWS);

  protected figure(key: string, value: unknown): Figure {
    if (typeof value === 'number') return sayFigure(value, nameOf(key).unit, isShare(key, value));
    return { text: this.say(value), unit: value === null || typeof value === 'boolean' ? '' : nameOf(key).unit };
  }

  /** In a table every figure of a column stands in the unit of its head. */
  protected cell(value: unknown, { key, unit }: { readonly key: string; readonly unit: string }): string {
    if (typeof value !== 'number') return this.say(value);
    if (isShare(key, value)) return sayFigure(value, '', true).text;
    return Number.isInteger(value) ? String(value) : String(Number(value.toPrecision(unit === '' ? 4 : 5)));
  }

  /** All digits, for whoever points at it. */
  protected whole(value: unknown): string | null {
    return typeof value === 'number' ? String(value) : null;
  }

  protected say(value: unknown): string {
    if (value === null || value === undefined) return 'none';
    if (typeof value === 'number') return sayFigure(value, '').text;
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (Array.isArray(value))
      return value.length === 0 ? 'none' : value.map((v) => this.say(v)).join(Array.isArray(value[0]) ? ' | ' : ', ');
    return typeof value === 'string' ? inWords(value) : JSON.stringify(value);
  }
}

function isShare(key: string, value: number): boolean {
  return /share$/i.test(key) && Math.abs(value) <= 1;
}

function wordsOf(key: string): string {
  return nameOf(key).words || inWords(key);
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
