import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, resource, signal } from '@angular/core';
import { gearAnswerSchema } from '@estuarine/contract';
import {
  convertTorque,
  findDue,
  findSlip,
  isTorqueWithin,
  judgeTools,
  readDecimal,
  showTorque,
  type Seat,
  type TorqueGroup,
  type TorqueUnit,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../line/job-log.ts';
import { KnownAnswers } from '../../line/known-answers.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';
import { TextField } from '../../ui/text-field.ts';

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
  readonly #known = inject(KnownAnswers);
  readonly #gear = resource({ loader: () => this.#known.ask('/api/gear', gearAnswerSchema) });

  protected readonly units = choicesOf<TorqueUnit>({ Nm: 'N·m', lbfin: 'lbf·in', lbfft: 'lbf·ft' });
  protected readonly readsChoices = choicesOf({ click: 'clicks, no figure', figure: 'shows a figure' });
  protected readonly show = showTorque;
  /** By value: the group is a new object with every act that comes in, also from others. */
  readonly #settingId = computed(() => this.group().setting?.settingId ?? null);
  readonly #nextSeat = computed(() => this.group().next?.seat ?? 1);
  protected readonly isSetting = linkedSignal(() => this.#settingId() === null);
  protected readonly toolId = linkedSignal(() => this.group().setting?.toolId ?? this.tools().find((t) => t.why === null)?.id ?? '');
  protected readonly reads = linkedSignal(() => this.group().setting?.reads ?? ('click' as const));
  protected readonly unit = signal<TorqueUnit>('Nm');
  protected readonly text = signal('');
  protected readonly figure = signal('');
  protected readonly message = signal('');

  /** Seat that is worked on: the next open one, or one that was picked. */
  protected readonly seat = linkedSignal(() => this.#nextSeat());
  protected readonly spec = computed(() => {
    const { torque } = this.group().part;
    if (!torque) return null;
    const { newtonMetre, poundForceInch, poundForceFoot } = convertTorque(torque.newtonMetre, 'Nm');
    const figures = `${newtonMetre.toFixed(1)} N·m · ${poundForceInch.toFixed(0)} lbf·in · ${poundForceFoot.toFixed(1)} lbf·ft`;
    return { ...torque, figures, source: SOURCES[torque.source] };
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
    const body = { partId: part.id, toolId: this.toolId(), reads: this.reads(), setNewtonMetre, toolLabel: '' };
    if ((await this.#log.act({ type: 'torque.set', body })) === null) this.message.set('It could not be stored on this device.');
  }

  /** One key a nut: a tool that clicks needs nothing else, one that shows a figure is read. */
  protected tighten(event?: Event): void {
    event?.preventDefault();
    const { setting, seats, wantedPasses, part } = this.group();
    const seat = seats[this.seat() - 1];
    if (!setting || !seat) return;
    const pass = seat.passes >= 1 && wantedPasses === 2 ? 2 : 1;
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
    void this.#log.act({
      type: 'fastener.torqued',
      body: { settingId: setting.settingId, partId: part.id, seat: seat.seat, pass, newtonMetre },
    });
    // the next open one of the pass that is under way; the state follows within milliseconds
    const ahead = seats.find((s) => s.seat > seat.seat && s.passes < pass) ?? seats.find((s) => s.seat !== seat.seat && s.passes < pass);
    const to = ahead ?? (pass < wantedPasses ? seats[0] : undefined);
    if (to) this.pick(to);
  }

  #whyNotSet({ newtonMetre: specNewtonMetre, tolerancePercent }: NonNullable<TorqueGroup['part']['torque']>, set: number): string | null {
    if (isTorqueWithin(specNewtonMetre, tolerancePercent, set)) return null;
    const former = this.#log.state()?.rebuild.settings.findLast((s) => s.toolId === this.toolId())?.setNewtonMetre ?? null;
    const slip = findSlip({ specNewtonMetre, tolerancePercent }, set, former);
    return `${showTorque(set)}. ${slip?.sentence ?? `${showTorque(specNewtonMetre)} is wanted, within ${tolerancePercent} %.`}`;
  }
}
