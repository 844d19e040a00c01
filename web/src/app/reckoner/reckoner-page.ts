import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, RouterLink, RouterLinkActive } from '@angular/router';
import { findEntries, GROUPS, REGISTRY } from '@estuarine/core/reckon';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { map } from 'rxjs';
import * as z from 'zod';
import { TextField } from '../ui/text-field.ts';
import { Plot } from '../ui/plot.ts';
import { sayPath, type JsonSchema } from '../ui/schema-form/schema.ts';
import { SchemaField, type FieldFault } from '../ui/schema-form/schema-field.ts';
import { AnswerView } from './answer-view.ts';
import { plotAnswer } from './answer-plot.ts';
import { addressOf, dropQuestion, keepQuestion, keptQuestion, readQuestion } from './question.ts';
import { ReckonRun } from './reckon-run.ts';

/** Every calculation by itself: its form, its answer, its formula and its source, from the one registry. */
@Component({
  selector: 'app-reckoner-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, RouterLinkActive, NzButtonModule, SchemaField, AnswerView, Plot, TextField],
  providers: [ReckonRun],
  templateUrl: './reckoner-page.html',
  styleUrl: './reckoner-page.less',
})
export class ReckonerPage {
  /** Name of the calculation, from the address. */
  readonly name = input<string>();

  protected readonly run = inject(ReckonRun);
  protected readonly sayPath = sayPath;

  readonly #asked = inject(ActivatedRoute);
  protected readonly search = signal('');
  protected readonly groups = computed(() => {
    const found = findEntries(this.search());
    return GROUPS.map((title) => ({ title, entries: found.filter((e) => e.group === title) })).filter((g) => g.entries.length > 0);
  });
  protected readonly entry = computed(() => REGISTRY.find((e) => e.name === this.name()) ?? null);
  protected readonly schema = computed((): JsonSchema => {
    const entry = this.entry();
    return entry ? (z.toJSONSchema(entry.input, { io: 'input', unrepresentable: 'any' }) as JsonSchema) : {};
  });
  /** As the address asks, else as this device asked last, else the example. */
  readonly #linked = toSignal(this.#asked.queryParamMap.pipe(map((q) => q.get('in'))), { initialValue: null });
  protected readonly value = linkedSignal<unknown>(() => {
    const entry = this.entry();
    if (!entry) return undefined;
    return readQuestion(this.#linked()) ?? keptQuestion(entry.name) ?? entry.example;
  });
  protected readonly isExample = computed(() => JSON.stringify(this.value()) === JSON.stringify(this.entry()?.example));
  protected readonly copied = signal('');
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
      if (value !== entry.example) keepQuestion(entry.name, value);
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

  protected useExample(): void {
    const entry = this.entry();
    if (!entry) return;
    dropQuestion(entry.name);
    this.value.set(entry.example);
  }

  protected async copyLink(): Promise<void> {
    const entry = this.entry();
    const address = entry && addressOf(entry.name, this.value(), location.origin);
    if (!address) this.copied.set('Too long for a link: copy the question as JSON.');
    else await this.#copy(address, 'The link is copied; it holds the question.');
  }

  /** Question, answer, formula and source as plain text. */
  protected async copyAnswer(): Promise<void> {
    const [entry, answer] = [this.entry(), this.answer()];
    if (!entry || answer === null) return;
    const lines = [entry.title, `Question: ${JSON.stringify(this.value())}`, `Answer: ${JSON.stringify(answer)}`];
    await this.#copy([...lines, `Formula: ${entry.formula}`, `Source: ${entry.source}`].join('\n'), 'Answer and formula are copied.');
  }

  async #copy(text: string, done: string): Promise<void> {
    try {
      await navigator.clipboard.writeText(text);
      this.copied.set(done);
    } catch {
      this.copied.set('This browser lets nothing be copied here.');
    }
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
