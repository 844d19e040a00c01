import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { auxiliaryAnswerSchema } from '@estuarine/contract';
import { SPARKS, WAKE_SIGN_NAMES, type Fact, type Refit, type Spark } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { findInstrument } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { readAsked } from '../../ui/asked-figures.ts';
import { TextField } from '../../ui/text-field.ts';
import { FactChoices } from '../physical/fact-choices.ts';
import { listFactRows, type FactRow } from '../physical/fact-rows.ts';

type Engine = 'byItself' | 'byAccelerator' | 'no';
type Charging = 'takes' | 'takesNothing';

const SPARK_NAMES: Record<Spark, string> = { none: 'none', small: 'small', strong: 'strong' };
const SPARK_WORDS: Record<Spark, string> = {
  none: 'Nothing draws, or the circuit is open.',
  small: 'Usual: units charge their capacitors.',
  strong: 'Something draws. Find it before the 12 V goes on.',
};

/** The 12 V, the plug to its last movement, and the wake: what each sign means where it fails. */
@Component({
  selector: 'app-wake-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FactChoices, NzButtonModule, TextField],
  templateUrl: './wake-panel.html',
  styleUrls: ['../two-panes.less', '../room.less'],
})
export class WakePanel {
  readonly refit = input.required<Refit>();

  protected readonly log = inject(JobLog);
  readonly #api = inject(Api);

  protected readonly sparks = SPARKS;
  protected readonly sparkNames = SPARK_NAMES;
  protected readonly sparkWords = SPARK_WORDS;
  protected readonly signNames = WAKE_SIGN_NAMES;
  protected readonly restVolt = signal('');
  protected readonly loadVolt = signal('');
  protected readonly celsius = signal('');
  protected readonly testFault = signal('');
  protected readonly isTesting = signal(false);
  protected readonly minutes = signal('');
  protected readonly lentTo = signal('');
  protected readonly lentFault = signal('');

  protected readonly tester = findInstrument('batteryTester');
  protected readonly plan = computed(() => this.log.profile()?.wake ?? null);
  protected readonly last = computed(() => this.log.state()?.refit.tested.at(-1) ?? null);
  protected readonly lent = computed(() => this.log.state()?.refit.lent ?? []);
  protected readonly spark = computed(() => {
    const refit = this.log.state()?.refit;
    return refit?.sparks.findLast((s) => s.number > refit.lifted)?.spark ?? null;
  });
  /** Put in again it is latched only once somebody said so. */
  protected readonly isLatchUnsaid = computed(() => {
    const state = this.log.state();
    return state !== null && state.pack.isPlugIn && state.pack.isPlugLatched === null && state.refit.touched > 0;
  });
  protected readonly plugRow = computed((): FactRow | null => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    const row = state && profile ? listFactRows(state.pack, profile).find((r) => r.key === 'plug') : undefined;
    if (!row) return null;
    return this.isLatchUnsaid() ? { ...row, choices: row.choices.map((c) => ({ ...c, isCurrent: false })) } : row;
  });
  protected readonly otherRows = computed((): FactRow[] => {
    const pack = this.log.state()?.pack;
    if (!pack) return [];
    const row = (key: string, name: string, choices: [string, Fact, boolean][]): FactRow => ({
      ...{ key, name, stands: '' },
      choices: choices.map(([label, fact, isCurrent]) => ({ label, fact, isCurrent })),
    });
    return [
      row('twelveVolt', '12 V negative', [
        ['On and tight', { kind: 'twelveVolt', isOff: false }, !pack.isTwelveVoltOff],
        ['Off, tucked away', { kind: 'twelveVolt', isOff: true }, pack.isTwelveVoltOff],
      ]),
      row('key', 'Key', [
        ['Back, for the wake', { kind: 'key', isAway: false }, !pack.isKeyAway],
        ['Away', { kind: 'key', isAway: true }, pack.isKeyAway],
      ]),
    ];
  });
  protected readonly wakes = computed(() => this.refit().steps.some((s) => s.id === 'wake' && !s.isDone) || !this.refit().isAwake);
  /** Why each sign failed at the last wake. */
  protected readonly failed = computed(() => {
    const signs = this.plan()?.signs ?? [];
    return (this.refit().wake?.failed ?? []).map((sign) => ({
      name: WAKE_SIGN_NAMES[sign],
      plan: signs.find((s) => s.sign === sign) ?? null,
    }));
  });

  /** What is seen at this wake; begins anew once one is kept. */
  readonly #wakeNumber = computed(() => this.refit().wake?.number ?? 0);
  protected readonly ready = linkedSignal<number, boolean | null>({ source: this.#wakeNumber, computation: () => null });
  protected readonly lamps = linkedSignal<number, boolean | null>({ source: this.#wakeNumber, computation: () => null });
  protected readonly engine = linkedSignal<number, Engine | null>({ source: this.#wakeNumber, computation: () => null });
  protected readonly charging = linkedSignal<number, Charging | null>({ source: this.#wakeNumber, computation: () => null });
  protected readonly charge = signal('');
  protected readonly wakeFault = signal('');

  protected state(fact: Fact): void {
    void this.log.stateFact('refit', fact);
  }

  protected keepTest(): void {
    const read = readAsked([
      { name: 'At rest, V', text: this.restVolt(), least: 0, most: 20 },
      { name: 'Under load, V', text: this.loadVolt(), least: 0, most: 20, isOptional: true },
      { name: 'At, °C', text: this.celsius(), least: -60, most: 80 },
    ]);
    this.testFault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    const [restVolt = 0, loadVolt = null, celsius = 0] = read.values;
    this.#keep(restVolt ?? 0, loadVolt, celsius ?? 0, false);
    for (const field of [this.restVolt, this.loadVolt, this.celsius]) field.set('');
  }

  protected async takeTest(): Promise<void> {
    const tester = this.tester();
    if (!tester || this.isTesting()) return;
    this.isTesting.set(true);
    const path = `/api/instruments/${encodeURIComponent(tester.instrumentId)}/auxiliary`;
    const reply = await this.#api.post(path, auxiliaryAnswerSchema, { jobId: this.log.jobId() });
    this.isTesting.set(false);
    if (reply.kind === 'answer') this.#keep(reply.value.restVolt, reply.value.loadVolt, reply.value.celsius, true);
    else this.testFault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Type what the tester shows.');
  }

  #keep(restVolt: number, loadVolt: number | null, celsius: number, isFromTester: boolean): void {
    this.testFault.set('');
    void this.log.act({ type: 'auxiliary.tested', body: { restVolt, loadVolt, celsius, isFromTester } });
  }

  protected saySpark(spark: Spark): void {
    void this.log.act({ type: 'spark.seen', body: { spark } });
  }

  protected keepWake(): void {
    const readyLight = this.ready();
    const read = readAsked([{ name: 'Charge, %', text: this.charge(), least: 0, most: 100, isOptional: true }]);
    this.wakeFault.set('fault' in read ? read.fault : readyLight === null ? 'The ready light at least: on or not.' : '');
    if ('fault' in read || readyLight === null) return;
    const [chargePercent = null] = read.values;
    void this.log.act({
      type: 'wake.tried',
      body: { readyLight, lampsOut: this.lamps(), engine: this.engine(), charging: this.charging(), chargePercent, note: '' },
    });
    this.charge.set('');
  }

  protected keepLent(): void {
    const read = readAsked([
      { name: 'Minutes', text: this.minutes(), least: 1, most: 1440 },
      { name: 'Charge, %', text: this.lentTo(), least: 0, most: 100, isOptional: true },
    ]);
    this.lentFault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    const [minute = 0, toPercent = null] = read.values;
    void this.log.act({ type: 'energy.lent', body: { minute: minute ?? 0, toPercent } });
    this.minutes.set('');
    this.lentTo.set('');
  }
}
