import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal } from '@angular/core';
import { scanAnswerSchema, type ScanAnswer } from '@estuarine/contract';
import {
  blockPlaces,
  CODE_FATE_NAMES,
  readScan,
  SCAN_MOMENT_NAMES,
  SCAN_MOMENTS,
  viewScan,
  type Refit,
  type ScanMoment,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import * as z from 'zod';
import { Api } from '../../transport/api.ts';
import { findInstrument } from '../../transport/instruments.ts';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';

/** What a simulated car gives meanwhile, for the second scan of a pair. */
const LOAD_AMPERE = 60;

/** Of a file that is picked. */
const MOST_BYTE = 200_000;

const clearedSchema = z.object({ reader: z.string(), isSimulated: z.boolean() });

/** What the car says of itself: codes and what became of them, blocks by their own modules, the wiring that explains them, bars by two loads. */
@Component({
  selector: 'app-scan-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, TextField],
  templateUrl: './scan-panel.html',
  styleUrls: ['../two-panes.less', '../room.less'],
})
export class ScanPanel {
  readonly refit = input.required<Refit>();

  protected readonly log = inject(JobLog);
  readonly #api = inject(Api);

  protected readonly moments = SCAN_MOMENTS;
  protected readonly momentNames = SCAN_MOMENT_NAMES;
  protected readonly fates = CODE_FATE_NAMES;
  protected readonly loadAmpere = LOAD_AMPERE;
  protected readonly isAsking = signal(false);
  protected readonly fault = signal('');
  protected readonly text = signal('');
  protected readonly typedReader = signal('');
  protected readonly typedVersion = signal('');
  protected readonly typedFault = signal('');

  protected readonly reader = findInstrument('scanTool');
  /** Which one is asked for by what was done; another can be picked. */
  readonly #usual = computed((): ScanMoment => {
    const refit = this.log.state()?.refit;
    if (!refit || (refit.lifted === 0 && refit.tried.length === 0)) return 'asFound';
    return refit.driven.some((d) => d.number > refit.lifted) ? 'afterRoadTest' : 'afterRepair';
  });
  protected readonly moment = linkedSignal(() => this.#usual());
  protected readonly seen = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? viewScan(state, profile) : null;
  });
  protected readonly blocks = computed(() => this.log.profile()?.blocks ?? []);
  protected readonly codes = computed(() => {
    const own = this.log.profile()?.scan?.codes ?? [];
    return this.refit().codes.map((c) => {
      const plan = own.find((o) => o.code === c.code) ?? null;
      const isLonely = plan?.comesWith != null && !this.refit().codes.some((o) => o.code === plan.comesWith);
      return { ...c, plan, done: c.fate === 'returned' && plan?.block ? this.#doneToBlock(plan.block) : '', isLonely };
    });
  });
  protected readonly stored = computed(() =>
    this.refit().codes.some((c) => c.statuses.includes('stored') || c.statuses.includes('pending')),
  );

  protected async scan(ampere: number): Promise<void> {
    const reader = this.reader();
    if (!reader || this.isAsking()) return;
    this.fault.set('');
    this.isAsking.set(true);
    const body = { readerId: reader.instrumentId, load: { ampere, second: 0 } };
    const jobId = this.log.jobId();
    const reply = await this.#api.post(`/api/jobs/${jobId}/car/scan`, scanAnswerSchema, body);
    this.isAsking.set(false);
    // of a job that is not the open one any more
    if (this.log.jobId() !== jobId) return;
    if (reply.kind === 'answer') this.#keep(reply.value);
    else this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Type what the reader shows.');
  }

  protected async clear(): Promise<void> {
    const reader = this.reader();
    if (!reader || this.isAsking()) return;
    this.isAsking.set(true);
    const jobId = this.log.jobId();
    const reply = await this.#api.post(`/api/jobs/${jobId}/car/clear`, clearedSchema, { readerId: reader.instrumentId });
    this.isAsking.set(false);
    if (this.log.jobId() !== jobId) return;
    if (reply.kind === 'answer') void this.log.act({ type: 'codes.cleared', body: { reader: reply.value.reader } });
    else this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached: nothing was cleared.');
  }

  protected async pick(files: FileList | null): Promise<void> {
    const [file] = files ?? [];
    if (!file) return;
    this.typedFault.set(file.size > MOST_BYTE ? `${file.name} is larger than any scan.` : '');
    if (file.size > MOST_BYTE) return;
    this.text.set(await file.text());
    if (this.typedReader() === '') this.typedReader.set(file.name.slice(0, 120));
  }

  protected keepTyped(): void {
    const read = readScan(this.text(), this.blocks().length);
    const reader = this.typedReader().trim();
    const isNamed = reader !== '';
    this.typedFault.set(read.kind === 'refused' ? read.message : isNamed ? '' : 'Which reader: two readers are never compared as one.');
    if (read.kind === 'refused' || !isNamed) return;
    const { codes, blockVolts, packVolt, celsius, ampere, chargePercent } = read.value;
    this.#keep({
      ...{ reader, readerVersion: this.typedVersion().trim(), isSimulated: false, readiness: null, ampere, chargePercent },
      ...{ codes: [...codes], packVolt, blockVolts: [...blockVolts], celsius: [...celsius] },
    });
    this.text.set('');
  }

  #keep(scan: ScanAnswer): void {
    void this.log.act({ type: 'car.scanned', body: { moment: this.moment(), ...scan } });
  }

  /** What was done to the modules of a block whose code came back. */
  #doneToBlock(block: number): string {
    const [state, profile] = [this.log.state(), this.log.profile()];
    if (!state || !profile) return '';
    const { from = 1, to = 0 } = blockPlaces(profile.blocks)[block - 1] ?? {};
    const places = Array.from({ length: to - from + 1 }, (_, i) => from + i);
    const fromShelf = new Set<string>(state.plan.chosen?.fromShelf ?? []);
    const changed = places.filter((p) => fromShelf.has(state.pack.places[p - 1]?.moduleId ?? ''));
    const modules = `modules ${places.join(' and ')}`;
    return changed.length > 0 ? `${modules}; ${changed.join(' and ')} renewed on this job` : `${modules}; none of them renewed on this job`;
  }
}
