import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal, untracked } from '@angular/core';
import {
  findRebuild,
  LIVE_VOLT,
  REBUILD_CHECK_NAMES,
  sayRebuildNext,
  tryFrame,
  type Fact,
  type FrameInHand,
  type RebuildCheck,
  type RebuildStep,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../line/job-log.ts';
import { selectScanned } from '../../scan/select-scanned.ts';
import { PackDrawing, type PlaceView } from '../../ui/pack-drawing.ts';
import { moveAct } from '../strip/ledger-acts.ts';
import { PartCard } from '../strip/part-card.ts';
import { FrameTrial } from './frame-trial.ts';
import { StackPanel } from './stack-panel.ts';
import { TorquePanel } from './torque-panel.ts';

/** The way back up, step by step: modules into the stack, frames tried before they are laid, every fastener to its torque. */
@Component({
  selector: 'app-rebuild-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FrameTrial, NzButtonModule, PackDrawing, PartCard, StackPanel, TorquePanel],
  templateUrl: './rebuild-stage.html',
  styleUrl: './rebuild-stage.less',
})
export class RebuildStage {
  protected readonly log = inject(JobLog);
  protected readonly checkNames = REBUILD_CHECK_NAMES;
  protected readonly moveAct = moveAct;
  /** A frame as it is held now; null while none is tried. */
  protected readonly hand = signal<FrameInHand | null>(null);
  protected readonly openPart = signal<string | null>(null);

  protected readonly rebuild = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? findRebuild(state, profile) : null;
  });
  protected readonly next = computed(() => {
    const rebuild = this.rebuild();
    return rebuild && sayRebuildNext(rebuild);
  });
  /** Follows what is next until a person looks at another step. */
  /** Begins at the first place that is wrong or empty, and goes where it is sent. */
  protected readonly place = linkedSignal({
    source: () => this.rebuild() !== null,
    computation: () => {
      const places = untracked(this.rebuild)?.places ?? [];
      return (places.find((p) => p.fault !== null) ?? places.find((p) => !p.isDone))?.place ?? 1;
    },
  });
  readonly #nextId = computed(() => this.rebuild()?.next?.id ?? 'stack');
  protected readonly stepId = linkedSignal(() => this.#nextId());
  protected readonly step = computed(() => this.rebuild()?.steps.find((s) => s.id === this.stepId()) ?? null);
  protected readonly frameId = computed(() => {
    const fact = this.step()?.fact;
    return fact?.kind === 'frame' ? fact.frame : null;
  });
  readonly #groupId = linkedSignal<RebuildStep | null, string | null>({
    source: this.step,
    computation: (step, before) => {
      const groups = step?.groups ?? [];
      return (groups.find((g) => g.part.id === before?.value && !g.isDone) ?? groups.find((g) => !g.isDone) ?? groups[0])?.part.id ?? null;
    },
  });
  protected readonly group = computed(() => this.step()?.groups.find((g) => g.part.id === this.#groupId()) ?? null);
  protected readonly tried = computed(() => {
    const [state, profile, exposure] = [this.log.state(), this.log.profile(), this.log.exposure()];
    if (!state || !profile || !exposure) return null;
    const volts = exposure.modules.map((m) => m.volt);
    const milliohms = exposure.modules.map((m) => m.milliohm);
    return tryFrame(state.pack, profile, volts, milliohms, this.hand());
  });
  /** The highest that stands in the stack once the frame in the hand lies where it belongs. */
  protected readonly brings = computed(() => {
    const [state, profile, exposure, frame] = [this.log.state(), this.log.profile(), this.log.exposure(), this.frameId()];
    if (!state || !profile || !exposure || frame === null) return null;
    const links = new Set([...(profile.frames.find((f) => f.id === frame)?.links ?? [])]);
    const open = new Set(this.log.openBars().filter((k) => !links.has(k)));
    if (!state.pack.isPlugIn && profile.plug.opensLink !== null) open.add(profile.plug.opensLink);
    let [highest, sum] = [0, 0];
    for (const [i, { volt }] of exposure.modules.entries()) {
      sum += volt;
      highest = Math.max(highest, sum);
      if (open.has(i + 1)) sum = 0;
    }
    return { volt: highest, isLive: highest >= LIVE_VOLT };
  });
  protected readonly places = computed((): PlaceView[] =>
    (this.rebuild()?.places ?? []).map(({ place, planned, laid, fault, isDone }) => ({
      place,
      verdict: fault !== null ? 'reject' : isDone ? 'keep' : null,
      text: laid !== '' ? laid : planned,
      deviation: null,
      deviationText: '',
      figureVerdict: 'unknown' as const,
      isPending: laid === '',
    })),
  );
  protected readonly owed = computed(() => {
    const step = this.step();
    const tightened = new Set(step?.groups.map((g) => g.part.id));
    return (this.log.ledger()?.parts ?? []).filter((b) => b.part.place === step?.id && b.owed > 0 && !tightened.has(b.part.id));
  });

  constructor() {
    selectScanned((moduleId) => {
      const at = this.rebuild()?.places.find((p) => p.planned === moduleId)?.place;
      if (at !== undefined) this.place.set(at);
      return at !== undefined;
    });
  }

  protected choose(step: RebuildStep): void {
    this.stepId.set(step.id);
    this.hand.set(null);
  }

  protected chooseGroup(partId: string): void {
    this.#groupId.set(partId);
  }

  protected stateFact(fact: Fact): void {
    this.hand.set(null);
    void this.log.stateFact('rebuild', fact);
  }

  protected check(check: RebuildCheck, isGood: boolean): void {
    void this.log.act({ type: 'rebuild.checked', body: { check, isGood, note: '' } });
  }

  protected say(step: RebuildStep): string {
    const seats = step.groups.flatMap((g) => g.seats);
    if (step.id === 'stack') {
      const places = this.rebuild()?.places ?? [];
      return `${places.filter((p) => p.isDone).length} of ${places.length}`;
    }
    if (seats.length === 0) return step.isOn ? 'on' : 'off';
    const tight = step.groups.reduce((n, g) => n + g.seats.filter((s) => s.passes >= g.wantedPasses).length, 0);
    const once = seats.filter((s) => s.passes > 0).length;
    return once > tight && tight === 0 ? `first pass ${once} of ${seats.length}` : `${tight} of ${seats.length} tight`;
  }
}
