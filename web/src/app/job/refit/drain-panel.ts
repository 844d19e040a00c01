import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { findDrain, findUnlike, shareOfNew, type DrainConditions, type JobState } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { findInstrument } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { readAsked } from '../../ui/asked-figures.ts';
import { Plot, type PlotLine } from '../../ui/plot.ts';
import { TextField } from '../../ui/text-field.ts';
import { DrainRun, type DrainReading } from './drain-run.ts';

type Drained = JobState['refit']['drained'][number];

/** What clamps and shunts of such readers are good for; common practice, no source. */
const AMPERE_SHARE = 0.03;

/** The pack drained in its car at a steady current: the window it gave, and before against after only where they are alike. */
@Component({
  selector: 'app-drain-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, Plot, TextField],
  templateUrl: './drain-panel.html',
  styleUrls: ['../two-panes.less', '../room.less'],
})
export class DrainPanel {
  protected readonly log = inject(JobLog);

  protected readonly ampere = signal('6.5');
  protected readonly celsius = signal('');
  protected readonly isCooled = signal(true);
  protected readonly isSupported = signal(true);
  protected readonly fault = signal('');
  readonly #run = inject(DrainRun);
  /** A drain goes on whatever is looked at; here only that of this job is shown. */
  readonly #isOwn = computed(() => this.#run.drain()?.jobId === this.log.jobId());
  protected readonly isRunning = computed(() => this.#isOwn() && this.#run.isRunning());
  protected readonly missed = computed(() => (this.#isOwn() ? this.#run.missed() : 0));
  protected readonly watchFault = computed(() => (this.#isOwn() ? this.#run.fault() : ''));
  /** A drain of another job that runs meanwhile: one reader watches one car. */
  protected readonly isBusy = computed(() => !this.#isOwn() && this.#run.isRunning());
  protected readonly samples = computed((): readonly DrainReading[] => (this.#isOwn() ? this.#run.samples() : []));

  protected readonly reader = findInstrument('scanTool');
  protected readonly kept = computed(() => this.log.state()?.refit.drained ?? []);
  readonly #lifted = computed(() => this.log.state()?.refit.lifted ?? 0);
  readonly #usual = computed((): 'before' | 'after' => (this.#lifted() > 0 ? 'after' : 'before'));
  protected readonly when = linkedSignal(() => this.#usual());
  protected readonly found = computed(() => {
    const [profile, samples] = [this.log.profile(), this.samples()];
    const [first, last] = [samples[0], samples.at(-1)];
    if (!profile || !first || !last) return null;
    const found = findDrain({
      ...{ samples, startPercent: first.percent, endPercent: last.percent, newCapacityAh: profile.moduleType.nominalCapacityAh },
      ...{ stepPercent: this.#stepPercent(), ampereShare: AMPERE_SHARE, blocks: profile.blocks },
    });
    return found.kind === 'answer' ? found.value : null;
  });
  protected readonly lines = computed((): PlotLine[] => {
    const [samples, blocks] = [this.samples(), this.log.profile()?.blocks ?? []];
    const minute = samples.map((s) => s.second / 60);
    const perModule = samples.map((s) => s.blockVolts.map((v, i) => v / (blocks[i] ?? 1)));
    return [
      { kind: 'line', name: 'highest block', tone: 'reed', x: minute, y: perModule.map((p) => Math.max(...p)) },
      { kind: 'line', name: 'lowest block', tone: 'madder', x: minute, y: perModule.map((p) => Math.min(...p)) },
    ];
  });
  protected readonly last = (when: 'before' | 'after'): Drained | null => this.kept().findLast((d) => d.when === when) ?? null;
  /** What keeps the two from being compared; null where there are not two. */
  protected readonly compared = computed(() => {
    const [before, after] = [this.last('before'), this.last('after')];
    if (!before || !after) return null;
    return { unlike: findUnlike(conditionsOf(before), conditionsOf(after)), from: this.share(before), to: this.share(after) };
  });
  /** The weakest block of the plan, in ampere-hours: what Match expects. */
  protected readonly expected = computed(() => {
    const [means, profile] = [this.log.state()?.plan.chosen?.blockMeanAh ?? [], this.log.profile()];
    return means.length > 0 && profile ? Math.min(...means) / profile.moduleType.nominalCapacityAh : null;
  });

  constructor() {
    // the warmth that the car told first is offered, and stays what a person makes of it
    effect(() => {
      const first = this.samples()[0]?.celsius;
      untracked(() => {
        if (first != null && this.celsius() === '') this.celsius.set(String(first));
      });
    });
  }

  protected share({ ampereHour, startPercent, endPercent }: Drained): number {
    return shareOfNew(ampereHour, startPercent - endPercent, this.log.profile()?.moduleType.nominalCapacityAh ?? 1);
  }

  protected run(): void {
    const reader = this.reader();
    if (!reader || this.isRunning() || this.isBusy()) return;
    const read = readAsked([{ name: 'Steady current, A', text: this.ampere(), least: 0.1, most: 100 }]);
    this.fault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    this.#run.begin({ jobId: this.log.jobId(), reader, ampere: read.values[0] ?? 0 });
  }

  protected stop(): void {
    this.#run.stop();
  }

  protected keep(): void {
    const [found, samples, reader] = [this.found(), this.samples(), this.reader()];
    const [first, last] = [samples[0], samples.at(-1)];
    if (!found || !reader || !first || !last) return;
    const read = readAsked([{ name: 'Pack at the start, °C', text: this.celsius(), least: -60, most: 200 }]);
    this.fault.set('fault' in read ? read.fault : '');
    if ('fault' in read) return;
    void this.log.act({
      type: 'drain.measured',
      body: {
        ...{
          when: this.when(),
          reader: reader.name,
          readerVersion: this.#run.version(),
          isSimulated: reader.isSimulated,
          celsius: read.values[0] ?? 0,
        },
        ...{ startPercent: first.percent, endPercent: last.percent, ampereHour: found.ampereHour, seconds: found.seconds },
        ...{ isCabinCooled: this.isCooled(), isTwelveVoltSupported: this.isSupported() },
        ...{ endsAtBlock: found.endsAtBlock, spreadVolt: found.spreadVolt },
      },
    });
    this.#run.clear();
  }

  #stepPercent(): number {
    const scan = this.log.profile()?.scan;
    return scan?.fields.find((f) => f.what === 'chargePercent')?.scale ?? 1;
  }
}

function conditionsOf(drained: Drained): DrainConditions {
  return { ...drained, meanAmpere: (3600 * drained.ampereHour) / drained.seconds };
}
