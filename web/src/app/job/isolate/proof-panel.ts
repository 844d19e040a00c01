import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  linkedSignal,
  output,
  resource,
  signal,
  viewChild,
} from '@angular/core';
import { instrumentsAnswerSchema, measureAnswerSchema, type Person } from '@estuarine/contract';
import {
  type Act,
  dischargeVolt,
  type Isolation,
  type IsolationPolicy,
  LIVE_VOLT,
  type Point,
  PROOF_ENTRIES,
  type ProofEntry,
  proofEntryName,
  readDecimal,
  sayTime,
  type Suggestion,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { Api } from '../../transport/api.ts';
import { Plot, type PlotLine } from '../../ui/plot.ts';
import { GearChoice } from './gear-choice.ts';

const MOST_VOLT = 5000;

/** Live-dead-live: which meter, six readings, what they say, and the signature. */
@Component({
  selector: 'app-proof-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, GearChoice, Plot],
  templateUrl: './proof-panel.html',
  styleUrl: './proof-panel.less',
})
export class ProofPanel {
  readonly isolation = input.required<Isolation>();
  /** Server time, epoch milliseconds. */
  readonly now = input.required<number>();
  /** Where dead is proven by the profile; on the bench it is the pack's own posts. */
  readonly points = input.required<readonly Point[]>();
  readonly jobId = input.required<string>();
  readonly policy = input.required<IsolationPolicy>();
  readonly meters = input.required<readonly Suggestion[]>();
  readonly units = input.required<readonly Suggestion[]>();
  readonly person = input.required<Person | null>();

  readonly act = output<Act>();

  readonly #api = inject(Api);
  protected readonly field = viewChild<ElementRef<HTMLInputElement>>('box');

  protected readonly entries = PROOF_ENTRIES;
  protected readonly entryName = proofEntryName;
  readonly #firstMeterId = computed(() => this.meters().find((m) => m.refusal === null)?.gear.gearId ?? '');
  /** Stays as picked while the suggestions, which hang on the time, are made anew. */
  protected readonly meterId = linkedSignal(() => this.#firstMeterId());
  /** Empty: the 12 V battery; else a proving unit. */
  protected readonly sourceId = signal('');
  protected readonly text = signal('');
  protected readonly fault = signal<string | null>(null);
  protected readonly isMeasuring = signal(false);
  protected readonly wantsNew = signal(false);

  /** Which of the points is proven next; stays as picked while acts come in. */
  protected readonly pointAt = linkedSignal(computed(() => this.points()[0]?.at ?? 'carSide'));
  protected readonly heading = computed(() => this.proof()?.point.label ?? this.#pointOf().label);
  readonly #pointOf = computed((): Point => this.points().find((p) => p.at === this.pointAt()) ?? (this.points()[0] as Point));
  protected readonly proof = computed(() => this.isolation().proof);
  protected readonly finding = computed(() => this.isolation().finding);
  /** Picked by hand to be read now; whatever arrives meanwhile leaves it. */
  readonly #chosen = signal<ProofEntry | null>(null);
  readonly #proofId = computed(() => this.proof()?.proofId ?? null);
  /** Said here and perhaps not shown yet: until the proof has more readings than `before` no other value goes there. */
  readonly #said = linkedSignal<string | null, readonly { readonly entry: ProofEntry; readonly before: number }[]>({
    source: this.#proofId,
    computation: () => [],
  });
  readonly #onItsWay = computed(() => {
    const count = this.proof()?.readings.length ?? 0;
    return this.#said().filter((s) => s.before >= count);
  });
  /** The entry that the next value is for: the picked one, else the first one missing that was not said here just now. */
  protected readonly entry = computed(() => {
    const missing = this.finding()?.missing ?? [];
    const said = this.#onItsWay().map((s) => s.entry);
    return this.#chosen() ?? missing.find((e) => !said.includes(e)) ?? missing[0] ?? 'plusMinus';
  });
  protected readonly isBeginning = computed(() => this.proof() === null && (this.isolation().standing === null || this.wantsNew()));
  protected readonly instruments = resource({
    loader: async () => {
      const reply = await this.#api.get('/api/instruments', instrumentsAnswerSchema);
      return reply.kind === 'answer' ? reply.value.instruments.filter((i) => i.kind === 'meter') : [];
    },
  });
  /** The instrument that is the picked meter, where it has a line to the server. */
  protected readonly instrument = computed(() => this.instruments.value()?.find((i) => i.gearId === this.proof()?.meterId) ?? null);
  protected readonly blockers = computed(() => this.isolation().blockers);
  protected readonly verdictWord = computed(() => {
    switch (this.finding()?.verdict) {
      case 'dead':
        return 'Dead, not signed yet.';
      case 'draining':
      case 'steady':
      case 'live':
        return 'Live.';
      case 'meterNotProven':
        return 'Meter not proven.';
      case 'void':
        return 'No proof.';
      default:
        return 'Open.';
    }
  });
  protected readonly isLive = computed(() => ['draining', 'steady', 'live', 'meterNotProven'].includes(this.finding()?.verdict ?? ''));
  protected readonly sinceText = computed(() => {
    const { endsAt, minutes } = this.isolation().wait;
    return endsAt === null ? null : sayTime((this.now() - (endsAt - minutes * 60_000)) / 1000);
  });

  protected readonly curve = computed((): readonly PlotLine[] => {
    const { proof, finding, wait } = this.isolation();
    const readings = proof?.readings.filter((r) => r.entry === 'plusMinus') ?? [];
    const first = readings[0];
    if (!proof || !finding || !first || readings.length < 2) return [];
    const zero = wait.endsAt === null ? first.readAt : wait.endsAt - wait.minutes * 60_000;
    const minute = (at: number): number => (at - zero) / 60_000;
    const dots: PlotLine = {
      ...{ kind: 'dots', name: 'read, plus to minus', tone: 'channel' },
      x: readings.map((r) => minute(r.readAt)),
      y: readings.map((r) => Math.abs(r.volt)),
    };
    const { decay } = finding;
    const last = readings[readings.length - 1] ?? first;
    const end = Math.max(minute(last.readAt) + 1, minute(finding.readAgainAt ?? last.readAt) * 1.05);
    const lines: PlotLine[] = [dots];
    const { tauSecond, startVolt } = decay ?? {};
    if (tauSecond != null && startVolt != null) {
      const xs = Array.from({ length: 60 }, (_, i) => minute(first.readAt) + ((end - minute(first.readAt)) * i) / 59);
      const at = (x: number): number => dischargeVolt(startVolt, tauSecond, (x - minute(first.readAt)) * 60);
      const solid = xs.filter((x) => x <= minute(last.readAt));
      const dashed = xs.filter((x) => x >= minute(last.readAt));
      lines.push({ kind: 'line', name: 'fitted', tone: 'channel', x: solid, y: solid.map(at) });
      lines.push({ kind: 'dash', name: 'expected', tone: 'channel', x: dashed, y: dashed.map(at) });
    }
    const span = [minute(first.readAt), end];
    lines.push({ kind: 'dash', name: `${LIVE_VOLT} V`, tone: 'live', x: span, y: [LIVE_VOLT, LIVE_VOLT] });
    lines.push({ kind: 'dash', name: `limit ${proof.limitVolt} V`, tone: 'fog', x: span, y: [proof.limitVolt, proof.limitVolt] });
    return lines;
  });

  protected volt(entry: ProofEntry): string {
    const read = this.finding()?.counting[entry];
    return read ? read.volt.toFixed(1) : '–';
  }

  protected isOff(entry: ProofEntry): boolean {
    const [read, proof] = [this.finding()?.counting[entry], this.proof()];
    if (!read || !proof) return false;
    const volt = Math.abs(read.volt);
    return entry.startsWith('known') ? volt < proof.known.lowVolt || volt > proof.known.highVolt : volt > proof.limitVolt;
  }

  /** Live orange is for what stands above the mark, and for nothing else. */
  protected isAboveMark(entry: ProofEntry): boolean {
    return Math.abs(this.finding()?.counting[entry]?.volt ?? 0) >= LIVE_VOLT;
  }

  protected begin(): void {
    const meter = this.meters().find((m) => m.gear.gearId === this.meterId());
    if (meter?.refusal !== null) return;
    const unit = this.units().find((u) => u.gear.gearId === this.sourceId())?.gear;
    const { batteryLowVolt, batteryHighVolt, limitVolt } = this.policy();
    const outputVolt = unit?.kind === 'provingUnit' ? unit.outputVolt : null;
    this.act.emit({
      type: 'proof.started',
      body: {
        meterId: meter.gear.gearId,
        source: unit ? 'provingUnit' : 'battery',
        sourceId: unit?.gearId ?? null,
        point: this.#pointOf(),
        // the server sets these from its register; shown with these until it has
        known:
          outputVolt === null
            ? { lowVolt: batteryLowVolt, highVolt: batteryHighVolt }
            : { lowVolt: outputVolt * 0.9, highVolt: outputVolt * 1.1 },
        limitVolt,
        resolutionVolt: meter.gear.kind === 'meter' ? meter.gear.resolutionVolt : 0.1,
      },
    });
    this.wantsNew.set(false);
    this.#chosen.set(null);
    setTimeout(() => this.field()?.nativeElement.focus());
  }

  /** Enter on an empty field does nothing. */
  protected enter(): void {
    if (this.text().trim() === '') return;
    const read = readDecimal(this.text());
    if (read.kind === 'refused') this.fault.set(read.message);
    else if (Math.abs(read.value) > MOST_VOLT) this.fault.set(`${read.value} V is more than any meter here reads.`);
    else this.#take(this.entry(), read.value, false);
  }

  protected choose(entry: ProofEntry): void {
    this.#chosen.set(entry);
    this.#clear();
  }

  protected async measure(): Promise<void> {
    const [instrument, proof] = [this.instrument(), this.proof()];
    if (!instrument || !proof || this.isMeasuring()) return;
    this.isMeasuring.set(true);
    const entry = this.entry();
    const place = { jobId: this.jobId(), place: entry, sourceId: proof.sourceId };
    const reply = await this.#api.post(
      `/api/instruments/${encodeURIComponent(instrument.instrumentId)}/measure`,
      measureAnswerSchema,
      place,
    );
    this.isMeasuring.set(false);
    // for the entry it was asked for, whatever was chosen meanwhile
    if (reply.kind === 'answer') this.#take(entry, reply.value.value, true);
    else this.fault.set(reply.kind === 'problem' ? reply.problem.detail : 'The server cannot be reached. Type the reading.');
  }

  protected sign(): void {
    const proof = this.proof();
    if (proof)
      this.act.emit({ type: 'proof.signed', body: { proofId: proof.proofId, until: null, breakMinute: this.policy().breakMinute } });
  }

  /** A new proof at the same point with the same meter: it begins with the known source. */
  protected startAgain(): void {
    const proof = this.proof();
    if (!proof) return;
    const { meterId, source, sourceId, point, known, limitVolt, resolutionVolt } = proof;
    this.act.emit({ type: 'proof.started', body: { meterId, source, sourceId, point, known, limitVolt, resolutionVolt } });
    this.#chosen.set('knownBefore');
    this.text.set('');
    this.fault.set(null);
    setTimeout(() => this.field()?.nativeElement.focus());
  }

  protected readonly canStartAgain = computed(() => {
    const verdict = this.finding()?.verdict;
    return (
      verdict === 'void' ||
      verdict === 'draining' ||
      verdict === 'meterNotProven' ||
      (verdict === 'dead' && this.blockers().some((b) => b.includes('take them again')))
    );
  });

  protected askCosign(): void {
    const proof = this.proof();
    if (proof) this.act.emit({ type: 'cosign.asked', body: { proofId: proof.proofId } });
  }

  /** What is read after an entry: the first one missing (null), or where none is, the next in order. */
  #following(entry: ProofEntry): ProofEntry | null {
    const said = this.#onItsWay().map((s) => s.entry);
    if (this.finding()?.missing.some((e) => e !== entry && !said.includes(e))) return null;
    return PROOF_ENTRIES[(PROOF_ENTRIES.indexOf(entry) + 1) % PROOF_ENTRIES.length] ?? null;
  }

  #take(entry: ProofEntry, volt: number, isFromMeter: boolean): void {
    const proof = this.proof();
    if (!proof) return;
    if (entry === this.entry()) this.#chosen.set(this.#following(entry));
    const onItsWay = this.#onItsWay();
    this.#said.set([...onItsWay, { entry, before: proof.readings.length + onItsWay.length }]);
    this.act.emit({ type: 'proof.read', body: { proofId: proof.proofId, entry, volt, isFromMeter } });
    this.fault.set(null);
    this.#clear();
  }

  /** Typed and taken before the screen was drawn again the binding sees no change: the field is emptied itself. */
  #clear(): void {
    this.text.set('');
    const box = this.field()?.nativeElement;
    if (!box) return;
    box.value = '';
    box.focus();
  }
}
