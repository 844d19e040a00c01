import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, signal, untracked } from '@angular/core';
import { type GearAnswer, gearAnswerSchema } from '@estuarine/contract';
import {
  findInsulationFault,
  plugWords,
  suggestGear,
  type Act,
  type Fact,
  type GearUse,
  type Point,
  type Suggestion,
} from '@estuarine/core';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { Session } from '../../session/session.ts';
import { Notice } from '../../ui/notice.ts';
import { FactChoices } from '../physical/fact-choices.ts';
import { sayFact } from '../say-act.ts';
import { listFactRows } from '../physical/fact-rows.ts';
import { InsulationPanel } from './insulation-panel.ts';
import { ProofPanel } from './proof-panel.ts';
import { StepList, type StepAct } from './step-list.ts';

const GEAR_PATH = '/api/gear';
const HERE = ['connectors', 'outletPosts', 'contactors'];

/** Making the vehicle dead and proving it: the steps of this pack and this shop on the left, the proof on the right. */
@Component({
  selector: 'app-isolate-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, Notice, FactChoices, StepList, ProofPanel, InsulationPanel],
  templateUrl: './isolate-stage.html',
  styleUrl: './isolate-stage.less',
})
export class IsolateStage {
  protected readonly log = inject(JobLog);
  protected readonly session = inject(Session);
  protected readonly link = inject(Link);
  readonly #known = inject(KnownAnswers);

  protected readonly plugWords = plugWords;
  protected readonly gear = signal<GearAnswer | null>(null);
  protected readonly isGearMissing = signal(false);
  protected readonly isNoticeAllowed = signal('Notification' in window && Notification.permission === 'granted');

  /** As it was done; before that as the shop does it. */
  protected readonly order = computed(() => {
    const { plugOutAt = null, twelveVoltOffAt = null } = this.log.state()?.isolate ?? {};
    if (plugOutAt === null && twelveVoltOffAt === null)
      return this.log.policy().isolation.order === 'plugFirst' ? 'plug first' : '12 V first';
    const isPlugFirst = plugOutAt !== null && (twelveVoltOffAt === null || plugOutAt < twelveVoltOffAt);
    return isPlugFirst ? 'the plug came first' : 'the 12 V came first';
  });
  /** What is stated here besides the steps: cables, the pack's own posts, contactors. */
  protected readonly rows = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? listFactRows(state.pack, profile).filter((r) => HERE.includes(r.key)) : [];
  });
  /** Highest voltage that gear may meet here. */
  readonly #stringVolt = computed(() => {
    const profile = this.log.profile();
    return profile ? profile.moduleCount * profile.moduleType.maximumModuleVolt : 0;
  });
  protected readonly suggestions = computed((): Record<GearUse, readonly Suggestion[]> => {
    const answer = this.gear();
    const all = answer?.rows.filter((r) => r.retired === null).map((r) => r.gear) ?? [];
    const of = (use: GearUse): readonly Suggestion[] =>
      answer ? suggestGear(all, use, this.#stringVolt(), answer.policy, answer.today) : [];
    return { gloves: of('gloves'), meter: of('meter'), knownSource: of('knownSource'), insulation: of('insulation') };
  });
  /** The one line under the work: what to count on, and what comes next. */
  protected readonly count = computed(() => {
    const isolation = this.log.isolation();
    const [profile, exposure] = [this.log.profile(), this.log.exposure()];
    if (!isolation || !profile || !exposure) return null;
    const { standing, lapse, finding } = isolation;
    const points = profile.isolation.point.label;
    // while the meter is laid the posts are at hand: one number with the head
    const full = Math.round(finding ? exposure.reachable.volt : exposure.behind.volt);
    if (standing)
      return {
        isLive: false,
        text: `Proven dead at the ${points}: at most ${standing.volt.toFixed(1)} V. Behind the covers ${full} V stand.`,
      };
    if (lapse) return { isLive: true, text: `The proof has lapsed. ${lapse.reason} Count on ${full} V at the ${points}.` };
    const read = finding?.highestVolt;
    const last = read == null ? '' : ` (last reading ${read.toFixed(1)} V)`;
    return { isLive: true, text: `Count on ${full} V at the ${points} until dead is proven${last}.` };
  });
  /** The same next as above; while a proof stands, when it lapses. */
  protected readonly next = computed(() => {
    const next = this.log.next();
    const standing = this.log.isolation()?.standing;
    if (standing) return `${next ? `${next.text}; the proof ` : ''}lapses at ${this.#clock(standing.endsAt)} if nothing is recorded`;
    if (!next) return null;
    if (next.at === null) return next.text;
    return `${next.text}, ${next.at > this.link.serverNow() ? `at ${this.#clock(next.at)}` : 'now'}`;
  });
  /** What was done on the vehicle out of the usual order, the latest first. */
  protected readonly odd = computed(() =>
    [...(this.log.state()?.facts ?? [])]
      .filter((f) => f.outOfOrder !== null)
      .reverse()
      .slice(0, 5),
  );
  /** On the bench the pack's own posts come first: until they are proven its contactors may be shut. */
  protected readonly points = computed((): readonly Point[] => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    if (!state || !profile) return [];
    const { point } = profile.isolation;
    const outlets: Point = { at: 'outletPosts', label: 'HV posts of the pack' };
    if (point.at === 'outletPosts') return [point];
    return state.pack.isOnBench ? [outlets, point] : [point, outlets];
  });
  protected readonly faultPlace = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? findInsulationFault(state, profile) : null;
  });
  protected readonly trap = computed(() => {
    const [state, profile, exposure] = [this.log.state(), this.log.profile(), this.log.exposure()];
    if (!state || !profile || !exposure || state.pack.isPlugIn || profile.plug.opensLink !== null) return null;
    return `The ${profile.plug.name} is out, and ${Math.round(exposure.behind.volt)} V still stand between the ends of the string: it opens no link of it.`;
  });

  constructor() {
    void this.loadGear();
    // a wait that ends while this screen is open is announced where the person allowed it
    let announced = 0;
    effect(() => {
      const endsAt = this.log.isolation()?.wait.endsAt ?? null;
      const now = this.link.serverNow();
      const isFresh = endsAt !== null && now >= endsAt && now - endsAt < 5000 && announced !== endsAt;
      if (!isFresh) return;
      announced = endsAt;
      untracked(() => this.#announce());
    });
    const refresh = setInterval(() => void this.loadGear(), 60_000);
    inject(DestroyRef).onDestroy(() => clearInterval(refresh));
  }

  protected async loadGear(): Promise<void> {
    this.gear.set((await this.#known.ask(GEAR_PATH, gearAnswerSchema)).value ?? null);
    this.isGearMissing.set(this.gear() === null);
  }

  protected act(act: Act): void {
    void this.log.act(act);
  }

  protected readonly say = sayFact;

  protected stateFact(fact: Fact): void {
    void this.log.stateFact('isolate', fact);
  }

  protected take(step: StepAct): void {
    if (step.kind === 'fact') this.stateFact(step.fact);
    else this.act(step.act);
  }

  protected async allowNotice(): Promise<void> {
    this.isNoticeAllowed.set((await Notification.requestPermission()) === 'granted');
  }

  protected readonly canAskNotice = 'Notification' in window;

  #announce(): void {
    const number = this.log.state()?.intake.opened?.number ?? '';
    if (this.isNoticeAllowed())
      new Notification(`Job ${number}: the wait is over`, { body: 'Prove dead now, gloves on.', tag: `wait-${number}` });
  }

  #clock(at: number): string {
    return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  }
}
