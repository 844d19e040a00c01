import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import {
  findBarsReady,
  findHalves,
  findInsulationFault,
  findLeak,
  findPasteView,
  findSurvey,
  listSides,
  heldBar,
  heldFrame,
  joinedLinks,
  isBegunTight,
  LIVE_VOLT,
  orderBars,
  placesOf,
  placesOfSeats,
  restingVolts,
  sayRebuildNext,
  SIDE_UP_NAMES,
  tryFrame,
  type Fact,
  type InHand,
  type RebuildStep,
  type SideUp,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { selectByLabel } from '../../labels/select-by-label.ts';
import { PackDrawing, type NutView, type PlaceView } from '../../ui/pack-drawing.ts';
import { PhotoRows, type PhotoRow } from '../finding/photo-rows.ts';
import { moveAct } from '../strip/ledger-acts.ts';
import { PartCard } from '../strip/part-card.ts';
import { InsulationPanel } from '../isolate/insulation-panel.ts';
import { BarsPanel } from './bars-panel.ts';
import { FrameTrial } from './frame-trial.ts';
import { HalvesPanel } from './halves-panel.ts';
import { LookRows } from './look-rows.ts';
import { LoopPanel } from './loop-panel.ts';
import { PastePanel } from './paste-panel.ts';
import { SensorsPanel } from './sensors-panel.ts';
import { StackPanel } from './stack-panel.ts';
import { SurveyPanel } from './survey-panel.ts';
import { TorquePanel } from './torque-panel.ts';

/** Characters that fit on a slab. */
const LONGEST_LABEL = 7;

/** The way back up, step by step: modules into the stack, frames tried before they are laid, every fastener to its torque. */
@Component({
  selector: 'app-rebuild-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[
      BarsPanel,
      FrameTrial,
      HalvesPanel,
      InsulationPanel,
      LookRows,
      LoopPanel,
      NzButtonModule,
      PackDrawing,
      PartCard,
      PastePanel,
      PhotoRows,
      SensorsPanel,
    ],
    ...[StackPanel, SurveyPanel, TorquePanel],
  ],
  templateUrl: './rebuild-stage.html',
  styleUrls: ['../two-panes.less', './rebuild-stage.less'],
})
export class RebuildStage {
  protected readonly log = inject(JobLog);
  protected readonly sideNames = SIDE_UP_NAMES;
  protected readonly moveAct = moveAct;
  /** A frame as it is held now; null while none is tried. */
  protected readonly hand = signal<InHand | null>(null);
  protected readonly openPart = signal<string | null>(null);

  protected readonly scene = computed(() => {
    const state = this.log.state();
    return state && { ...state, volts: restingVolts(state) };
  });
  protected readonly rebuild = this.log.rebuild;
  protected readonly next = computed(() => {
    const [rebuild, profile] = [this.rebuild(), this.log.profile()];
    return rebuild && profile && sayRebuildNext(rebuild, profile);
  });
  /** What is made ready and measured, as the step that is shown asks for it. */
  protected readonly measured = computed(() => {
    const [scene, profile] = [this.scene(), this.log.profile()];
    if (!scene || !profile) return null;
    return {
      bars: findBarsReady(scene, profile),
      survey: findSurvey(scene, profile),
      halves: findHalves(scene, profile),
      leak: findLeak(scene, profile),
      paste: findPasteView(scene, profile),
      links: joinedLinks(scene.pack),
    };
  });
  /** Each side, where the step asks for a photograph of it. */
  protected readonly sides = computed((): PhotoRow[] => {
    const [scene, profile] = [this.scene(), this.log.profile()];
    if (!scene || !profile || !this.step()?.plan.looks.includes('sidesPhotographed')) return [];
    return listSides(scene, profile).map(({ layerId, name, photoIds }) => ({
      ...{ key: layerId, name, photoIds, word: photoIds.length > 0 ? 'Once more' : 'Photograph' },
      next: { caption: name, place: layerId, pairOf: null },
    }));
  });
  protected readonly up = computed(() => this.log.state()?.rebuild.up?.up ?? 'top');
  /** Begins at the first place that is wrong or empty, and goes where it is sent. */
  protected readonly place = linkedSignal({
    source: () => this.rebuild() !== null,
    computation: () => {
      const places = untracked(this.rebuild)?.places ?? [];
      return (places.find((p) => p.fault !== null) ?? places.find((p) => !p.isDone))?.place ?? 1;
    },
  });
  readonly #nextId = computed(() => this.rebuild()?.next?.id ?? 'stack');
  /** Follows what is next until a person looks at another step. */
  protected readonly stepId = linkedSignal(() => this.#nextId());
  protected readonly step = computed(() => this.rebuild()?.steps.find((s) => s.id === this.stepId()) ?? null);
  /** Of bars that go on one by one: in which order, by what the modules stand at. */
  protected readonly order = computed(() => {
    const [step, exposure, scene] = [this.step(), this.log.exposure(), this.scene()];
    if (step?.fact?.kind !== 'links' || !exposure || !scene) return null;
    const closed = joinedLinks(scene.pack);
    const acts = step.fact.links.filter((k) => !closed.includes(k)).map((k) => ({ id: String(k), links: [k] }));
    const found = orderBars({ volts: exposure.modules.map((m) => m.volt), acts, closed });
    return found.kind === 'answer' && acts.length > 0 ? found.value : null;
  });
  /** The frame that the step lays, or the bar that goes on next; null where it lays neither or all is on. */
  protected readonly held = computed(() => {
    const [fact, profile, next] = [this.step()?.fact, this.log.profile(), this.order()?.order[0]];
    if (!profile || this.step()?.isOn) return null;
    if (fact?.kind === 'frame') return heldFrame(profile, fact.frame);
    return next === undefined ? null : heldBar(profile, Number(next));
  });
  readonly #groupId = linkedSignal<RebuildStep | null, string | null>({
    source: this.step,
    computation: (step, before) => {
      const groups = step?.groups ?? [];
      return (groups.find((g) => g.part.id === before?.value && !g.isDone) ?? groups.find((g) => !g.isDone) ?? groups[0])?.part.id ?? null;
    },
  });
  protected readonly group = computed(() => this.step()?.groups.find((g) => g.part.id === this.#groupId()) ?? null);
  /** Looked at before it is tightened; once a pass was begun it stands above the looks. */
  protected readonly isTightening = computed(() => {
    const step = this.step();
    return step !== null && isBegunTight(step) && step.groups.some((g) => !g.isDone);
  });
  protected readonly nuts = computed((): NutView[] => {
    const [group, profile] = [this.group(), this.log.profile()];
    const seats = group && profile && placesOfSeats(group.part, profile);
    if (!group || !seats) return [];
    return group.seats.flatMap(({ seat, passes, fault }) => {
      const place = seats.places[seat - 1];
      const state = fault !== null ? 'wrong' : passes >= group.wantedPasses ? 'tight' : passes > 0 ? 'once' : 'open';
      return place === undefined ? [] : [{ place, side: seats.side, state } as const];
    });
  });
  /** Of the step that is shown: the places that it lays. */
  protected readonly stackPlaces = computed(() => {
    const [step, rebuild, profile] = [this.step(), this.rebuild(), this.log.profile()];
    return step && rebuild && profile ? placesOf(step.plan, rebuild.places, profile) : [];
  });
  protected readonly tried = computed(() => {
    const [state, profile, exposure] = [this.log.state(), this.log.profile(), this.log.exposure()];
    if (!state || !profile || !exposure) return null;
    const volts = exposure.modules.map((m) => m.volt);
    const milliohms = exposure.modules.map((m) => m.milliohm);
    return tryFrame(state.pack, profile, volts, milliohms, this.hand());
  });
  protected readonly faultPlace = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? findInsulationFault(state, profile) : null;
  });
  /** What hurts on this pack while its bars go on. */
  protected readonly hazards = computed(() => {
    const kind = this.step()?.fact?.kind;
    const isBarring = (kind === 'frame' || kind === 'links' || this.step()?.plan.does === 'halves') && this.step()?.isOn === false;
    return isBarring ? (this.log.profile()?.hazards.flatMap((h) => (h.stage === 'rebuild' ? [h.text] : [])) ?? []) : [];
  });
  /** With the harness: what each of its channels will read as the modules really lie. */
  protected readonly channels = computed(() => (this.step()?.fact?.kind === 'harness' ? (this.tried()?.channels ?? null) : null));
  /** The highest that stands in the stack once what the hand holds lies where it belongs. */
  protected readonly brings = computed(() => {
    const [state, profile, exposure, held] = [this.log.state(), this.log.profile(), this.log.exposure(), this.held()];
    if (!state || !profile || !exposure || held === null) return null;
    const links = new Set(held.links);
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
  protected readonly places = computed((): PlaceView[] => {
    const places = this.rebuild()?.places ?? [];
    const short = shorten(places.map((p) => p.laid || p.planned));
    return places.map(({ place, laid, fault, isDone }, i) => ({
      place,
      verdict: fault !== null ? 'reject' : isDone ? 'keep' : null,
      text: short[i] ?? '',
      deviation: null,
      deviationText: '',
      figureVerdict: 'unknown' as const,
      isPending: laid === '',
    }));
  });
  protected readonly owed = computed(() => {
    const step = this.step();
    const tightened = new Set(step?.groups.map((g) => g.part.id));
    return (this.log.ledger()?.parts ?? []).filter((b) => step?.plan.parts.includes(b.part.id) && b.owed > 0 && !tightened.has(b.part.id));
  });

  constructor() {
    const element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterRenderEffect(() => {
      this.stepId();
      // where the steps lie in one strip, the one at hand is in view
      const strip = element.querySelector('.steps');
      const chip = strip?.querySelector<HTMLElement>('[aria-current]');
      if (strip && chip) strip.scrollLeft = chip.offsetLeft - strip.clientWidth / 3;
    });
    selectByLabel((moduleId) => {
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

  /** One bar at a time. */
  protected fit(links: readonly number[]): void {
    this.stateFact({ kind: 'links', links: [...links], areOpen: false });
  }

  protected turn(up: SideUp): void {
    void this.log.act({ type: 'pack.turned', body: { up } });
  }

  /** The seat's place on the drawing, where it has one. */
  protected showSeat(seat: number): void {
    const [group, profile] = [this.group(), this.log.profile()];
    const place = group && profile ? placesOfSeats(group.part, profile)?.places[seat - 1] : undefined;
    if (place !== undefined) this.place.set(place);
  }

  protected say(step: RebuildStep): string {
    const seats = step.groups.flatMap((g) => g.seats);
    const profile = this.log.profile();
    if (step.plan.does === 'stack' && profile) {
      const places = placesOf(step.plan, this.rebuild()?.places ?? [], profile);
      return `${places.filter((p) => p.isDone).length} of ${places.length}`;
    }
    if (step.plan.does === 'survey') return step.isDone ? 'measured' : 'if you can';
    if (seats.length === 0) return step.fact ? (step.isOn ? 'on' : 'off') : step.isDone ? 'done' : 'to do';
    const tight = step.groups.reduce((n, g) => n + g.seats.filter((s) => s.passes >= g.wantedPasses).length, 0);
    const once = seats.filter((s) => s.passes > 0).length;
    return once > tight && tight === 0 ? `first pass ${once} of ${seats.length}` : `${tight} of ${seats.length} tight`;
  }
}

/** Labels as they fit on a slab: of long ones the end, where they differ. */
function shorten(labels: readonly string[]): string[] {
  return labels.map((label) => (label.length > LONGEST_LABEL ? `…${label.slice(1 - LONGEST_LABEL)}` : label));
}
