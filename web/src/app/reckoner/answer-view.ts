import { ChangeDetectionStrategy, Component, computed, forwardRef, input } from '@angular/core';
import { nameOf } from '../ui/schema-form/schema.ts';

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
                <b>{{ say(field.value) }}</b> {{ field.value === null ? '' : field.unit }}
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
      ...{ key, value, ...nameOf(key) },
      isNested: isRecord(value) || (Array.isArray(value) && value.some(isRecord)),
    })),
  );
  protected readonly columns = computed(() => {
    const keys = new Set((this.value() as Record<string, unknown>[]).slice(0, ROWS).flatMap((row) => Object.keys(row)));
    return [...keys].map((key) => ({ key, ...nameOf(key) }));
  });
  protected readonly rows = computed(() =>
    (this.value() as Record<string, unknown>[]).slice(0, ROWS).map((row) => this.columns().map((c) => this.say(row[c.key]))),
  );
  protected readonly surplus = computed(() => (this.value() as unknown[]).length - ROWS);

  protected say(value: unknown): string {
    if (value === null || value === undefined) return 'none';
    if (typeof value === 'number') return Number.isInteger(value) ? String(value) : String(Number(value.toPrecision(6)));
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    if (Array.isArray(value))
      return value.length === 0 ? 'none' : value.map((v) => this.say(v)).join(Array.isArray(value[0]) ? ' | ' : ', ');
    return typeof value === 'string' ? value : JSON.stringify(value);
  }
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
