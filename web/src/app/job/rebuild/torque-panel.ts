import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  resource,
  signal,
  untracked,
} from '@angular/core';
import { gearAnswerSchema, torqueAnswerSchema } from '@estuarine/contract';
import {
  convertTorque,
  coverTools,
  findClampLoad,
  findDue,
  findSlip,
  isTorqueWithin,
  judgeTools,
  readDecimal,
  showTorque,
  type Act,
  type Seat,
  type TorqueGroup,
  type TorqueUnit,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { listInstruments } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';
import { TextField } from '../../ui/text-field.ts';

/** Stress area of coarse metric threads, mm², and the proof stress of property class 8.8 (ISO 898-1, from memory). */
const STRESS_AREA: Readonly<Record<number, number>> = { 4: 8.78, 5: 14.2, 6: 20.1, 8: 36.6, 10: 58 };
const PROOF_MEGAPASCAL = 580;

const NOT_STORED = 'It could not be stored on this device.';
const SOURCES = { maker: 'maker', supplier: 'supplier', shop: 'shop', invented: 'demonstration, invented' } as const;

/** Fasteners of one kind: the tool and its setting once, then one key a nut; holes and slips stand out. */
@Component({
  selector: 'app-torque-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NzButtonModule, TextField],
  templateUrl: './torque-panel.html',
  styleUrl: './torque-panel.less',
})
export class TorquePanel {
  readonly group = input.required<TorqueGroup>();
  /** Whether what they hold is on. */
  readonly isOn = input.required<boolean>();
  /** Seat that is looked at; of the terminals that is the module's place. */
  readonly seen = output<number>();

  readonly #log = inject(JobLog);
  readonly #api = inject(Api);
  readonly #known = inject(KnownAnswers);
  readonly #gear = resource({ loader: () => this.#known.ask('/api/gear', gearAnswerSchema) });

  readonly #instruments = listInstruments();
  /** The tool that is set, where it tells its clicks by wire. */
  protected readonly wired = computed(() => {
    const toolId = this.group().setting?.toolId;
    return this.#instruments().find((i) => i.kind === 'torqueTool' && i.gearId === toolId) ?? null;
  });
  protected readonly isAsking = signal(false);

  protected readonly units = choicesOf<TorqueUnit>({ Nm: 'N·m', lbfin: 'lbf·in', lbfft: 'lbf·ft' });
  protected readonly readsChoices = choicesOf({ click: 'clicks, no figure', figure: 'shows a figure' });
  protected readonly show = showTorque;
  // each by way of its value: the group is a new object with every act that comes in, also from others,
  // and what a person picked meanwhile stays
  readonly #settingId = computed(() => this.group().setting?.settingId ?? null);
  readonly #nextSeat = computed(() => this.group().next?.seat ?? 1);
  protected readonly isSetting = linkedSignal(() => this.#settingId() === null);
  protected readonly toolId = linkedSignal(
    computed(() => this.group().setting?.toolId ?? this.tools().find((t) => t.why === null)?.id ?? ''),
  );
  protected readonly reads = linkedSignal(computed(() => this.group().setting?.reads ?? ('click' as const)));
  protected readonly unit = signal<TorqueUnit>('Nm');
  protected readonly text = signal('');
  protected readonly figure = signal('');
  protected readonly message = signal('');
  /** What the tool told last by wire. */
  protected readonly told = signal('');

  /** Seats that were pressed and are not in the state yet, each by its part. */
  readonly #underWay = new Set<string>();
  /** Seat that is worked on: the next open one, or one that was picked. A state that lags behind quick hands leads back to none. */
  protected readonly seat = linkedSignal<number, number>({
    source: this.#nextSeat,
    computation: (next, before) => (before && this.#underWay.has(`${untracked(this.group).part.id} ${next}`) ? before.value : next),
  });
  protected readonly spec = computed(() => {
    const { torque } = this.group().part;
    if (!torque) return null;
    const { newtonMetre, poundForceInch, poundForceFoot } = convertTorque(torque.newtonMetre, 'Nm');
    const figures = `${newtonMetre.toFixed(1)} N·m · ${poundForceInch.toFixed(0)} lbf·in · ${poundForceFoot.toFixed(1)} lbf·ft`;
    return { ...torque, figures, source: SOURCES[torque.source] };
  });
  /** What the torque clamps over the band of nut factors, and of an ordinary bolt's proof load; null where the thread is not told. */
  protected readonly clamp = computed(() => {
    const { torque, name, size } = this.group().part;
    const diameter = Number(/\bM(\d+(?:\.\d+)?)\b/.exec(`${name} ${size}`)?.[1] ?? 0);
    const area = STRESS_AREA[diameter];
    if (!torque || area === undefined) return null;
    const at = (nutFactor: number) =>
      findClampLoad({
        ...{ torqueNewtonMetre: torque.newtonMetre, diameterMillimetre: diameter, nutFactor },
        ...{ stressAreaMillimetre2: area, proofStressMegapascal: PROOF_MEGAPASCAL },
      });
    const [least, most] = [at(0.3), at(0.15)];
    const share = (load: typeof least) => (100 * (load.proofShare ?? 0)).toFixed(0);
    return `Clamps ${(least.clampLoadNewton / 1000).toFixed(1)} to ${(most.clampLoadNewton / 1000).toFixed(1)} kN by nut factor 0.30 to 0.15, ${share(least)} to ${share(most)} % of the proof load of a class 8.8 stud. An insert in plastic gives way before that.`;
  });
  /** Which of the shop's tools the whole pack takes, and what none of them suits. */
  protected readonly cover = computed(() => {
    const [answer, profile] = [this.#gear.value()?.value, this.#log.profile()];
    if (!answer || !profile) return '';
    const able = answer.rows.flatMap(({ gear, retired }) =>
      gear.kind === 'torqueTool' && retired === null && findDue(gear, answer.policy, answer.today).refusal === null ? [gear] : [],
    );
    const layers = new Set(profile.layers.map((l) => l.id));
    const specs = profile.parts.flatMap((p) => (p.torque && layers.has(p.place) ? [p.torque] : []));
    const { toolIds, without } = coverTools(specs, able.map((g) => ({ ...g, id: g.gearId }))); // prettier-ignore
    const labels = toolIds.map((id) => able.find((g) => g.gearId === id)?.label ?? id).join(' and ');
    const lacking = without.length > 0 ? ` Nothing suits ${without.map((n) => `${n} N·m`).join(', ')}.` : '';
    return `${labels ? `For the whole pack: ${labels}.` : ''}${lacking}`;
  });
  /** Torque tools of the shop, the suitable ones first, each with why it cannot be taken. */
  protected readonly tools = computed(() => {
    const answer = this.#gear.value()?.value;
    const torque = this.group().part.torque;
    if (!answer || !torque) return [];
    const own = answer.rows.flatMap(({ gear, retired }) => (gear.kind === 'torqueTool' && retired === null ? [gear] : []));
    const judged = judgeTools(torque.newtonMetre, torque.tolerancePercent, own.map((g) => ({ ...g, id: g.gearId }))); // prettier-ignore
    return judged.flatMap(({ id, suitable, reason }) => {
      const gear = own.find((g) => g.gearId === id);
      const due = gear && findDue(gear, answer.policy, answer.today).refusal;
      return gear ? [{ id, label: gear.label, why: due ?? (suitable ? null : reason) }] : [];
    });
  });
  protected readonly isLoading = computed(() => this.#gear.isLoading());
  protected readonly done = computed(() => {
    const { seats, wantedPasses } = this.group();
    const passed = (n: number): number => seats.filter((s) => s.passes >= n).length;
    return wantedPasses === 2
      ? `first pass ${passed(1)} of ${seats.length}, second pass ${passed(2)} of ${seats.length}`
      : `${passed(1)} of ${seats.length}`;
  });
  protected readonly faults = computed(() => this.group().seats.filter((s) => s.fault !== null));

  protected pick(seat: Seat): void {
    this.seat.set(seat.seat);
    this.seen.emit(seat.seat);
  }

  /** Offers what the specification says as what is set, in the unit that is chosen. */
  protected fill(): void {
    const torque = this.group().part.torque;
    if (!torque) return;
    const { newtonMetre, poundForceInch, poundForceFoot } = convertTorque(torque.newtonMetre, 'Nm');
    const value = { Nm: newtonMetre, lbfin: poundForceInch, lbfft: poundForceFoot }[this.unit()];
    this.text.set(value.toFixed(this.unit() === 'lbfin' ? 0 : 1));
  }

  protected async set(event: Event): Promise<void> {
    event.preventDefault();
    const { part } = this.group();
    const read = readDecimal(this.text());
    if (read.kind === 'refused') {
      this.message.set(read.message);
      return;
    }
    const setNewtonMetre = convertTorque(read.value, this.unit()).newtonMetre;
    if (!(setNewtonMetre > 0)) {
      this.message.set('What the tool is set to is above zero.');
      return;
    }
    if (this.toolId() === '') {
      this.message.set('Choose the tool first.');
      return;
    }
    const why = part.torque && this.#whyNotSet(part.torque, setNewtonMetre);
    if (why) {
      this.message.set(why);
      return;
    }
    this.message.set('');
    const body = {
      partId: part.id,
      toolId: this.toolId(),
      reads: this.reads(),
      setNewtonMetre,
      toolLabel: this.tools().find((t) => t.id === this.toolId())?.label ?? '',
    };
    if ((await this.#log.act({ type: 'torque.set', body })) === null) this.message.set(NOT_STORED);
  }

  /** One key a nut: a tool that clicks needs nothing else, one that shows a figure is read. */
  protected tighten(event?: Event): void {
    event?.preventDefault();
    const { setting } = this.group();
    if (!setting) return;
    let newtonMetre: number | null = null;
    if (setting.reads === 'figure') {
      const read = readDecimal(this.figure());
      if (read.kind === 'refused') {
        this.message.set(read.message);
        return;
      }
      newtonMetre = convertTorque(read.value, this.unit()).newtonMetre;
      if (!(newtonMetre > 0)) {
        this.message.set('A figure above zero, as the tool shows it.');
        return;
      }
    }
    this.message.set('');
    this.figure.set('');
    this.#book(this.group(), this.seat(), newtonMetre);
  }

  /** @param group as it stood when the tool was laid to the seat */
  #book({ setting, seats, wantedPasses, part }: TorqueGroup, seatNumber: number, newtonMetre: number | null): void {
    const seat = seats[seatNumber - 1];
    if (!setting || !seat) return;
    const pass = seat.passes >= 1 && wantedPasses === 2 ? 2 : 1;
    void this.#keep({ settingId: setting.settingId, partId: part.id, seat: seat.seat, pass, newtonMetre });
    // who went to another seat meanwhile stays there
    if (this.group().part.id !== part.id || this.seat() !== seat.seat) return;
    // the next open one of the pass that is under way; the state follows within milliseconds
    const ahead = seats.find((s) => s.seat > seat.seat && s.passes < pass) ?? seats.find((s) => s.seat !== seat.seat && s.passes < pass);
    const to = ahead ?? (pass < wantedPasses ? seats[0] : undefined);
    if (to) this.pick(to);
  }

  async #keep(body: Extract<Act, { type: 'fastener.torqued' }>['body']): Promise<void> {
    const name = `${body.partId} ${body.seat}`;
    this.#underWay.add(name);
    const commandId = await this.#log.act({ type: 'fastener.torqued', body });
    this.#underWay.delete(name);
    if (commandId !== null || this.group().part.id !== body.partId) return;
    this.message.set(NOT_STORED);
    this.seat.set(body.seat);
  }

  /** One press a nut: the click as the tool tells it, with its angle. */
  protected async takeFromTool(): Promise<void> {
    const [tool, group, seat, jobId] = [this.wired(), this.group(), this.seat(), this.#log.jobId()];
    if (!tool || !group.setting || this.isAsking()) return;
    this.isAsking.set(true);
    const body = { setNewtonMetre: group.setting.setNewtonMetre };
    const reply = await this.#api.post(`/api/instruments/${tool.instrumentId}/torque`, torqueAnswerSchema, body);
    this.isAsking.set(false);
    if (reply.kind !== 'answer') {
      this.message.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Type what the tool shows.');
      return;
    }
    // the job that it was asked for is not the open one any more
    if (this.#log.jobId() !== jobId) return;
    const { newtonMetre, angleDegree } = reply.value;
    this.#book(group, seat, Number(newtonMetre.toFixed(2)));
    this.told.set(`${newtonMetre.toFixed(2)} N·m${angleDegree === null ? '' : `, ${angleDegree.toFixed(0)}°`}`);
  }

  #whyNotSet({ newtonMetre: specNewtonMetre, tolerancePercent }: NonNullable<TorqueGroup['part']['torque']>, set: number): string | null {
    if (isTorqueWithin(specNewtonMetre, tolerancePercent, set)) return null;
    const former = this.#log.state()?.rebuild.settings.findLast((s) => s.toolId === this.toolId())?.setNewtonMetre ?? null;
    const slip = findSlip({ specNewtonMetre, tolerancePercent }, set, former);
    return `${showTorque(set)}. ${slip?.sentence ?? `${showTorque(specNewtonMetre)} is wanted, within ${tolerancePercent} %.`}`;
  }
}
