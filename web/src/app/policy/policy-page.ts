import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type PolicyAnswer, policyAnswerSchema } from '@estuarine/contract';
import {
  gearPolicySchema,
  isolationPolicySchema,
  moneyPolicySchema,
  policySchema,
  readDecimal,
  wordingPolicySchema,
  type Policy,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import * as z from 'zod';
import { Session } from '../session/session.ts';
import type { JsonSchema } from '../ui/schema-form/schema.ts';
import { SchemaField, type FieldFault } from '../ui/schema-form/schema-field.ts';
import { Api } from '../transport/api.ts';
import { ShopDesk } from '../stock/shop-desk.ts';
import { ListPage, type ListState } from '../ui/list-page.ts';
import { StageWords } from '../ui/stage-words.ts';
import { Notice } from '../ui/notice.ts';
import { KeysPanel } from './keys-panel.ts';
import { LIMIT_FIELDS, readField, writeField, type LimitField } from './limit-fields.ts';

/** The limits of the shop: what makes a module worth watching, what rejects it, and how a matched set is chosen. */
@Component({
  selector: 'app-policy-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [KeysPanel, NzButtonModule, ListPage, Notice, SchemaField],
  templateUrl: './policy-page.html',
  styleUrl: './policy-page.less',
})
export class PolicyPage {
  readonly #api = inject(Api);
  readonly #desk = inject(ShopDesk);
  readonly #words = inject(StageWords);

  protected readonly session = inject(Session);
  protected readonly fields = LIMIT_FIELDS;
  protected readonly isolationSchema = z.toJSONSchema(isolationPolicySchema, { io: 'input' }) as JsonSchema;
  protected readonly gearSchema = z.toJSONSchema(gearPolicySchema, { io: 'input' }) as JsonSchema;
  protected readonly moneySchema = z.toJSONSchema(moneyPolicySchema, { io: 'input' }) as JsonSchema;
  protected readonly wordingSchema = z.toJSONSchema(wordingPolicySchema, { io: 'input' }) as JsonSchema;
  protected readonly isolation = signal<unknown>(null);
  protected readonly gear = signal<unknown>(null);
  protected readonly money = signal<unknown>(null);
  protected readonly wording = signal<unknown>(null);
  protected readonly partFaults = computed(() => ({
    isolation: faultsOf(isolationPolicySchema, this.isolation()),
    gear: faultsOf(gearPolicySchema, this.gear()),
    money: faultsOf(moneyPolicySchema, this.money()),
    wording: faultsOf(wordingPolicySchema, this.wording()),
  }));
  protected readonly answer = signal<PolicyAnswer | null>(null);
  protected readonly state = signal<ListState>('loading');
  protected readonly about = computed(() => {
    const stands = this.answer();
    return stands ? `Version ${stands.version} stands` : '';
  });
  protected readonly texts = signal<Readonly<Record<string, string>>>({});
  protected readonly objective = signal<Policy['matching']['objective']>('balanced');
  protected readonly fault = signal<string | null>(null);
  protected readonly isKept = signal(false);

  protected readonly faults = computed(() => {
    const faults: Record<string, string> = {};
    for (const field of this.fields) {
      const text = this.texts()[field.key] ?? '';
      if (text.trim() === '') {
        if (!field.isOptional) faults[field.key] = 'A number is needed here.';
        continue;
      }
      const read = readDecimal(text);
      if (read.kind === 'refused') faults[field.key] = read.message;
      else if (read.value < field.minimum) faults[field.key] = `Not below ${field.minimum}.`;
    }
    return faults;
  });
  protected readonly hasFaults = computed(
    () => Object.keys(this.faults()).length > 0 || Object.values(this.partFaults()).some((f) => f.length > 0),
  );

  constructor() {
    void this.load();
  }

  protected async load(): Promise<void> {
    const reply = await this.#api.get('/api/policy', policyAnswerSchema);
    this.state.set(reply.kind === 'answer' ? 'fresh' : this.answer() ? 'seen' : 'failed');
    if (reply.kind !== 'answer') return;
    this.answer.set(reply.value);
    this.objective.set(reply.value.policy.matching.objective);
    this.isolation.set(reply.value.policy.isolation);
    this.gear.set(reply.value.policy.gear);
    this.money.set(reply.value.policy.money);
    this.wording.set(reply.value.policy.wording);
    this.#words.set(reply.value.policy.wording);
    this.texts.set(Object.fromEntries(this.fields.map((f) => [f.key, readField(reply.value.policy, f)])));
  }

  protected set(field: LimitField, text: string): void {
    this.isKept.set(false);
    this.texts.update((all) => ({ ...all, [field.key]: text }));
  }

  protected setObjective(value: string): void {
    this.isKept.set(false);
    this.objective.set(value === 'strongest' ? 'strongest' : 'balanced');
  }

  protected async save(): Promise<void> {
    const before = this.answer();
    if (!before || this.hasFaults()) return;
    const parts = {
      isolation: isolationPolicySchema.parse(this.isolation()),
      gear: gearPolicySchema.parse(this.gear()),
      money: moneyPolicySchema.parse(this.money()),
      wording: wordingPolicySchema.parse(this.wording()),
    };
    let policy: Policy = { ...before.policy, ...parts, matching: { ...before.policy.matching, objective: this.objective() } };
    for (const field of this.fields) policy = writeField(policy, field, this.texts()[field.key] ?? '');
    const checked = policySchema.safeParse(policy);
    if (!checked.success) {
      this.fault.set(checked.error.issues[0]?.message ?? 'The limits do not fit.');
      return;
    }
    const fault = await this.#desk.act({ type: 'policy.set', body: { version: before.version + 1, policy: checked.data } });
    this.fault.set(fault);
    this.isKept.set(fault === null);
    if (fault === null) await this.load();
  }
}

function faultsOf(schema: z.ZodType, value: unknown): FieldFault[] {
  const read = schema.safeParse(value);
  return read.success ? [] : read.error.issues.map((i) => ({ path: i.path as (string | number)[], message: i.message }));
}
