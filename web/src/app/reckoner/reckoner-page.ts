import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { REGISTRY } from '@estuarine/core/reckon';
import { NzButtonModule } from 'ng-zorro-antd/button';
import * as z from 'zod';
import { Plot } from '../ui/plot.ts';
import { type JsonSchema } from '../ui/schema-form/schema.ts';
import { SchemaField, type FieldFault } from '../ui/schema-form/schema-field.ts';
import { AnswerView } from './answer-view.ts';
import { plotAnswer } from './answer-plot.ts';
import { ReckonRun } from './reckon-run.ts';

const GROUPS: readonly (readonly [string, string])[] = [
  ['isolate', 'Isolating'],
  ['torque', 'Torque'],
  ['stats', 'Readings'],
  ['reading', 'Readings'],
  ['cell', 'Cells'],
  ['pack', 'The string'],
  ['match', 'Matching'],
];

/** Every calculation by itself: its form, its answer, its formula and its source, from the one registry. */
@Component({
  selector: 'app-reckoner-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive, NzButtonModule, SchemaField, AnswerView, Plot],
  providers: [ReckonRun],
  templateUrl: './reckoner-page.html',
  styleUrl: './reckoner-page.less',
})
export class ReckonerPage {
  /** Name of the calculation, from the address. */
  readonly name = input<string>();

  protected readonly run = inject(ReckonRun);

  protected readonly groups = [...new Set(GROUPS.map(([, title]) => title))].map((title) => ({
    title,
    entries: REGISTRY.filter((e) => GROUPS.some(([prefix, t]) => t === title && e.name.startsWith(`${prefix}.`))),
  }));
  protected readonly entry = computed(() => REGISTRY.find((e) => e.name === this.name()) ?? null);
  protected readonly schema = computed((): JsonSchema => {
    const entry = this.entry();
    return entry ? (z.toJSONSchema(entry.input, { io: 'input', unrepresentable: 'any' }) as JsonSchema) : {};
  });
  protected readonly value = linkedSignal<unknown>(() => this.entry()?.example);
  protected readonly isAsJson = signal(false);
  protected readonly json = linkedSignal(() => JSON.stringify(this.value(), null, 1));
  protected readonly jsonFault = signal<string | null>(null);
  protected readonly state = this.run.state;
  protected readonly refusal = computed(() => {
    const state = this.state();
    return state.kind === 'done' && state.result.kind === 'refused' ? state.result : null;
  });
  protected readonly faults = computed((): FieldFault[] => {
    const refusal = this.refusal();
    return refusal ? [{ path: refusal.path, message: refusal.message }] : [];
  });
  protected readonly answer = computed(() => {
    const state = this.state();
    return state.kind === 'done' && state.result.kind === 'answer' ? state.result.value : null;
  });
  protected readonly plot = computed(() => {
    const [entry, state, answer] = [this.entry(), this.state(), this.answer()];
    return entry && state.kind === 'done' && answer !== null ? plotAnswer(entry.name, state.input, answer) : null;
  });

  constructor() {
    // light ones follow the typing; heavy ones wait to be asked
    effect((onCleanup) => {
      const [entry, value] = [this.entry(), this.value()];
      if (!entry) return;
      if (entry.isHeavy) {
        untracked(() => this.run.cancel());
        return;
      }
      const soon = setTimeout(() => void this.run.ask(entry.name, value), 120);
      onCleanup(() => clearTimeout(soon));
    });
  }

  protected ask(): void {
    const entry = this.entry();
    if (entry) void this.run.ask(entry.name, this.value());
  }

  protected typeJson(text: string): void {
    this.json.set(text);
    try {
      this.value.set(JSON.parse(text));
      this.json.set(text);
      this.jsonFault.set(null);
    } catch {
      this.jsonFault.set('This is not JSON yet. The form keeps what was last whole.');
    }
  }
}
