import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type GearAnswer, gearAnswerSchema, type InstrumentsAnswer, instrumentsAnswerSchema } from '@estuarine/contract';
import { findDue, GEAR_NAMES, gearSchema, instrumentSchema, lastCheck, type Due, type Gear, type ShopAct } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import * as z from 'zod';
import { Api } from '../transport/api.ts';
import { KnownAnswers, listStateOf } from '../transport/known-answers.ts';
import { Session } from '../session/session.ts';
import { ShopDesk } from '../stock/shop-desk.ts';
import { ListPage, type ListState } from '../ui/list-page.ts';
import { blankOf, type JsonSchema } from '../ui/schema-form/schema.ts';
import { SchemaField, type FieldFault } from '../ui/schema-form/schema-field.ts';

const PATH = '/api/gear';

interface GearView {
  readonly gear: Gear;
  readonly due: Due;
  readonly retired: string | null;
  readonly details: string;
  readonly lastCheck: string | null;
}

/** Gloves, meters, tools: what is due, by which rule, and what may be used on a hazard today. */
@Component({
  selector: 'app-gear-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, ListPage, SchemaField],
  templateUrl: './gear-page.html',
  styleUrl: './gear-page.less',
})
export class GearPage {
  readonly #api = inject(Api);
  readonly #known = inject(KnownAnswers);
  readonly #desk = inject(ShopDesk);
  protected readonly session = inject(Session);

  protected readonly answer = signal<GearAnswer | null>(null);
  protected readonly instruments = signal<InstrumentsAnswer>({ instruments: [], position: 0 });
  protected readonly state = signal<ListState>('loading');
  protected readonly fault = signal<string | null>(null);
  protected readonly isAdding = signal<'gear' | 'instrument' | null>(null);
  protected readonly draft = signal<unknown>(null);
  /** Up to where the shop had been seen when the draft was opened; undefined for one that is new. */
  #draftSeen: number | undefined;
  protected readonly draftFaults = signal<readonly FieldFault[]>([]);
  protected readonly openId = signal<string | null>(null);
  protected readonly checkedOn = signal('');
  protected readonly checkedBy = signal('');
  protected readonly reason = signal('');

  protected readonly names = GEAR_NAMES;
  protected readonly mayChange = computed(() => this.session.person()?.role !== 'apprentice');
  protected readonly isLead = computed(() => this.session.person()?.role === 'lead');
  protected readonly draftSchema = computed(
    () => z.toJSONSchema(this.isAdding() === 'instrument' ? instrumentSchema : gearSchema, { io: 'input' }) as JsonSchema,
  );
  /** What cannot be used first, then by the day it is due; what is out of use last. */
  protected readonly rows = computed((): GearView[] => {
    const answer = this.answer();
    if (!answer) return [];
    return answer.rows
      .map(({ gear, retired }) => ({
        ...{ gear, retired, due: findDue(gear, answer.policy, answer.today), details: describe(gear), lastCheck: lastCheck(gear) },
      }))
      .sort(
        (a, b) =>
          Number(a.retired !== null) - Number(b.retired !== null) ||
          Number(b.due.refusal !== null) - Number(a.due.refusal !== null) ||
          (a.due.daysLeft ?? Infinity) - (b.due.daysLeft ?? Infinity),
      );
  });
  protected readonly overdue = computed(() => this.rows().filter((r) => r.retired === null && r.due.refusal !== null).length);

  protected readonly about = computed(() =>
    this.overdue() === 0 ? 'Everything in use is in date' : `${this.overdue()} cannot be used on a hazard today`,
  );

  /** The list on its way; a press rests on what comes of it, so that nobody's own last act stands in the way of the next. */
  #loaded: Promise<void> = Promise.resolve();

  constructor() {
    void this.load();
  }

  protected print(): void {
    window.print();
  }

  protected load(): Promise<void> {
    return (this.#loaded = this.#load());
  }

  async #load(): Promise<void> {
    const [gear, instruments] = await Promise.all([
      this.#known.ask(PATH, gearAnswerSchema),
      this.#api.get('/api/instruments', instrumentsAnswerSchema),
    ]);
    if (instruments.kind === 'answer') this.instruments.set(instruments.value);
    this.answer.set(gear.value ?? this.answer());
    this.state.set(listStateOf(gear));
  }

  protected toggle(row: GearView): void {
    this.openId.set(this.openId() === row.gear.gearId ? null : row.gear.gearId);
    this.checkedOn.set(this.answer()?.today ?? '');
    this.checkedBy.set('');
    this.reason.set('');
    this.fault.set(null);
  }

  protected add(kind: 'gear' | 'instrument'): void {
    this.isAdding.set(kind);
    this.#draftSeen = undefined;
    this.draftFaults.set([]);
    this.draft.set(blankOf(this.draftSchema()));
  }

  protected edit(gear: Gear): void {
    this.openId.set(null);
    this.isAdding.set('gear');
    this.#draftSeen = this.answer()?.position;
    this.draftFaults.set([]);
    this.draft.set(gear);
  }

  protected async keepDraft(): Promise<void> {
    const isGear = this.isAdding() === 'gear';
    const read = isGear ? gearSchema.safeParse(this.draft()) : instrumentSchema.safeParse(this.draft());
    if (!read.success) {
      this.draftFaults.set(read.error.issues.map((i) => ({ path: i.path as (string | number)[], message: i.message })));
      return;
    }
    const act = isGear ? { type: 'gear.saved', body: { gear: read.data } } : { type: 'instrument.saved', body: read.data };
    if (await this.#send(act as ShopAct, this.#draftSeen)) this.isAdding.set(null);
    // what it stands beside was told and is shown: saved again, it rests on that
    else this.#draftSeen = isGear ? this.answer()?.position : this.instruments().position;
  }

  /** Whether it was kept. */
  protected async act(act: ShopAct): Promise<boolean> {
    await this.#loaded;
    const { position } = act.type.startsWith('instrument') ? this.instruments() : (this.answer() ?? {});
    return this.#send(act, position);
  }

  async #send(act: ShopAct, seen: number | undefined): Promise<boolean> {
    const fault = await this.#desk.act(act, seen);
    this.fault.set(fault);
    if (fault === null) this.openId.set(null);
    await this.load();
    return fault === null;
  }

  protected feedUrl(): string {
    return `${location.origin}${this.answer()?.feed ?? ''}`;
  }
}

function describe(gear: Gear): string {
  switch (gear.kind) {
    case 'gloves':
      return `class ${gear.gloveClass}, size ${gear.size}${gear.issuedOn === null ? ', in the store' : `, issued ${gear.issuedOn}`}`;
    case 'meter':
      return `CAT ${gear.category} ${gear.categoryVolt} V, shows ${gear.resolutionVolt} V steps`;
    case 'provingUnit':
      return `${gear.outputVolt} V`;
    case 'insulationTester':
      return `tests at ${gear.testVolt} V`;
    case 'torqueTool':
      return `${gear.minNewtonMetre} to ${gear.maxNewtonMetre} N·m, ${gear.cycles} cycles since`;
    case 'charger':
      return `up to ${gear.maximumVolt} V`;
    case 'mask':
      return gear.standard;
  }
}
