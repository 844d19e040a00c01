import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { ActivatedRoute } from '@angular/router';
import {
  FIGURES,
  figureFloor,
  figureFormat,
  isAgainst,
  keysOf,
  proposeMends,
  QUANTITIES,
  sentencesAgainst,
  SWEEP_KINDS,
  type Figure,
  type Sweep,
  type SweepKind,
  type Verdict,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { selectByLabel } from '../../labels/select-by-label.ts';
import { JobLog } from '../../transport/job-log.ts';
import { PackDrawing, type PlaceView } from '../../ui/pack-drawing.ts';
import { PackStrip } from '../../ui/pack-strip.ts';
import { Shortcuts } from '../../ui/shortcuts.ts';
import { VerdictMark, VERDICT_WORDS } from '../../ui/verdict-mark.ts';
import { ImportDialog } from '../../import/import-dialog.ts';
import { TableDrop } from '../../import/table-drop.ts';
import { ReckonLink } from '../../reckoner/reckon-link.ts';
import { faultPin } from '../physical/fault-pin.ts';
import { AskList } from '../line/ask-list.ts';
import { SourceForm } from '../physical/source-form.ts';
import { LimitsLine } from './limits-line.ts';
import { MendPanel } from './mend-panel.ts';
import { RestClock } from './rest-clock.ts';
import { SweepEntry } from './sweep-entry.ts';
import { SweepStart } from './sweep-start.ts';
import { FIGURE_NAMES, SWEEP_NAMES } from './sweep-walk.ts';
import { VerdictCard } from './verdict-card.ts';

/** Sweeps of the pack: entry, drawing by the chosen figure, and a verdict with its reason for every module. */
@Component({
  selector: 'app-test-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    AskList,
    NzButtonModule,
    MendPanel,
    PackDrawing,
    PackStrip,
    ReckonLink,
    RestClock,
    SourceForm,
    SweepEntry,
    SweepStart,
    VerdictCard,
    VerdictMark,
    ImportDialog,
    TableDrop,
    LimitsLine,
  ],
  templateUrl: './test-stage.html',
  styleUrl: './test-stage.less',
})
export class TestStage {
  protected readonly log = inject(JobLog);
  protected readonly against = sentencesAgainst;
  protected readonly place = signal(1);
  protected readonly fault = computed(() => faultPin(this.log));
  protected readonly isImporting = signal(false);
  /** A table that was dropped or pasted, for the import; null: one is chosen there. */
  protected readonly given = signal<File | null>(null);
  /** Chosen by the person; null follows what is being measured. */
  readonly #figure = signal<Figure | null>(null);
  /** As the address asks for, until another is chosen. */
  readonly #kind = signal(SWEEP_KINDS.find((k) => k === inject(ActivatedRoute).snapshot.queryParamMap.get('sweep')) ?? null);

  protected readonly figures = FIGURES;
  protected readonly figureNames = FIGURE_NAMES;
  protected readonly kinds = SWEEP_KINDS;
  protected readonly kindNames = SWEEP_NAMES;
  protected readonly words = VERDICT_WORDS;

  protected readonly kind = computed((): SweepKind => this.#kind() ?? this.openSweeps().at(-1)?.kind ?? this.#nextKind());
  protected readonly openSweeps = computed(() => (this.log.state()?.sweep.sweeps ?? []).filter((s) => s.endedAt === null));
  protected readonly sweep = computed((): Sweep | null => this.openSweeps().findLast((s) => s.kind === this.kind()) ?? null);
  protected readonly keys = computed(() => {
    const state = this.log.state();
    return state ? keysOf(state.sweep) : [];
  });
  protected readonly figure = computed((): Figure => this.#figure() ?? figureOf(this.kind()));
  protected readonly record = computed(() => this.log.records()[this.place() - 1] ?? null);
  protected readonly counts = computed(() => {
    const counts: Record<Verdict, number> = { reject: 0, watch: 0, keep: 0, unknown: 0 };
    for (const record of this.log.records()) counts[record.verdict]++;
    return counts;
  });
  protected readonly median = computed(() => {
    for (const record of this.log.records())
      for (const reason of record.reasons) if (reason.figure === this.figure() && reason.median !== null) return reason.median;
    return null;
  });
  protected readonly graphTitle = computed(() => {
    const median = this.median();
    const { unit, digits } = figureFormat(this.figure());
    return median === null
      ? 'Fewer than the crowd needs: no verdict by comparison yet.'
      : `Line: the middle of the crowd, ${median.toFixed(digits)} ${unit}. Downwards is worse.`;
  });
  /** The figure of all modules, as the crowd is asked who stands apart. */
  protected readonly crowd = computed(() => ({
    values: this.log.records().flatMap(({ place, figures }) => {
      const value = figures[this.figure()];
      return value === undefined ? [] : [{ id: String(place), value }];
    }),
  }));
  protected readonly places = computed((): PlaceView[] => {
    const figure = this.figure();
    const { digits, unit } = figureFormat(figure);
    const median = this.median();
    return this.log.records().map((record) => {
      const value = record.figures[figure];
      const deviation = value === undefined || median === null ? null : QUANTITIES[figure].bad * (value - median);
      return {
        place: record.place,
        verdict: record.verdict,
        text: value === undefined ? '' : value.toFixed(digits),
        deviation,
        deviationText: value === undefined ? '' : `${value.toFixed(digits)} ${unit}`,
        figureVerdict: record.reasons.find((r) => r.figure === figure)?.verdict ?? 'unknown',
        isPending: false,
      };
    });
  });
  /** Four times the difference that never counts fills the graph. */
  protected readonly graphLeast = computed(() => {
    const { limits } = this.log.policy();
    return 4 * figureFloor(this.figure(), limits, this.median() ?? 0);
  });
  /** Readings that fell further than a module does: they lower nothing until they are confirmed or read anew. */
  protected readonly doubted = computed(() => this.log.questions().filter((q) => q.cause === 'readings' && q.answers.length > 0));
  /** Rows that can be put right in one press. */
  protected readonly mends = computed(() => {
    const state = this.log.state();
    return (state ? proposeMends(state) : []).flatMap(([first, ...more]) => (first ? [[first, ...more] as const] : []));
  });
  protected readonly attention = computed(() => this.log.records().filter((r) => isAgainst(r.verdict) || r.two.length > 0));

  constructor() {
    const shortcuts = inject(Shortcuts);
    const offs = SWEEP_KINDS.map((kind, i) =>
      shortcuts.register({ key: String(i + 1), what: `sweep: ${SWEEP_NAMES[kind]}`, run: () => this.chooseKind(kind) }),
    );
    inject(DestroyRef).onDestroy(() => offs.forEach((off) => off()));
    selectByLabel((moduleId) => {
      const at = this.log.moduleIds().indexOf(moduleId);
      if (at >= 0) this.place.set(at + 1);
      return at >= 0;
    });
  }

  protected bringIn(table: File | null): void {
    this.given.set(table);
    this.isImporting.set(true);
  }

  protected chooseKind(kind: SweepKind): void {
    this.#kind.set(kind);
    this.#figure.set(null);
  }

  protected chooseFigure(figure: Figure): void {
    this.#figure.set(figure);
  }

  protected chooseReading(sweepId: string, quantity: string, commandId: string): void {
    const body = { sweepId, place: this.place(), quantity: quantity as 'restVolt', commandId };
    void this.log.act({ type: 'reading.chosen', body });
  }

  #nextKind(): SweepKind {
    const done = new Set((this.log.state()?.sweep.sweeps ?? []).map((s) => s.kind));
    return (['openCircuit', 'rest', 'load'] as const).find((k) => !done.has(k)) ?? 'openCircuit';
  }
}

function figureOf(kind: SweepKind): Figure {
  switch (kind) {
    case 'openCircuit':
      return 'openCircuitVolt';
    case 'rest':
      return 'restDropMillivolt';
    case 'load':
      return 'loadDropMillivolt';
    case 'resistance':
      return 'resistanceMilliohm';
    case 'capacity':
      return 'capacityAh';
  }
}
