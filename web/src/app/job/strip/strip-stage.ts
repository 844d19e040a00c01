import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, linkedSignal, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { findInterruption, followingPlace, listPlaces, type Fact } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { map } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { Link } from '../../transport/link.ts';
import { Shortcuts } from '../../ui/shortcuts.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { FindingBoard } from '../finding/finding-board.ts';
import { PhotoBoard } from '../finding/photo-board.ts';
import { FactChoices } from '../physical/fact-choices.ts';
import { listFactRows } from '../physical/fact-rows.ts';
import { LedgerTable } from './ledger-table.ts';
import { LiftPlan } from './lift-plan.ts';
import { PlaceBench } from './place-bench.ts';
import { StageTimes } from './stage-times.ts';
import { TransferLedger } from './transfer-ledger.ts';
import { VehiclePlan } from './vehicle-plan.ts';

/** What is stated here besides the counts. */
const HERE = ['connectors', 'outletPosts', 'pack'];

/** The way to the pack: zone by zone on the plan of the vehicle, group by group into the tray, and the ledger of it. */
@Component({
  selector: 'app-strip-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[FactChoices, FindingBoard, LedgerTable, LiftPlan, NzButtonModule, PhotoBoard, PlaceBench],
    ...[StageParts, StageTimes, TransferLedger, VehiclePlan],
  ],
  templateUrl: './strip-stage.html',
  styleUrl: './strip-stage.less',
})
export class StripStage {
  protected readonly log = inject(JobLog);
  readonly #link = inject(Link);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'off');
  protected readonly parts = computed((): StagePart[] => {
    const seen = this.log.state()?.finding;
    return [
      { id: 'off', name: 'Take off' },
      { id: 'ledger', name: 'Ledger', count: this.log.ledger()?.owed ?? 0 },
      { id: 'findings', name: 'Findings', count: seen?.findings.filter((f) => !f.settled).length ?? 0 },
      { id: 'photos', name: 'Photographs', count: seen?.photos.filter((p) => !p.erased).length ?? 0 },
      { id: 'lift', name: 'Lift out' },
      { id: 'exchange', name: 'Exchange' },
      { id: 'times', name: 'Times' },
    ];
  });
  protected readonly places = computed(() => {
    const [ledger, profile] = [this.log.ledger(), this.log.profile()];
    return ledger && profile ? listPlaces(profile.zones, ledger) : [];
  });
  readonly #ready = computed(() => (this.log.phase() === 'ready' ? this.log.jobId() : ''));
  /** The first zone that is not clear when the screen opens; afterwards the one that was picked. */
  protected readonly zoneId = linkedSignal<string, string>({
    source: this.#ready,
    computation: () => untracked(() => (this.places().find((p) => !p.isClear) ?? this.places()[0])?.place.id ?? ''),
  });
  protected readonly place = computed(() => this.places().find((p) => p.place.id === this.zoneId()) ?? this.places()[0] ?? null);
  protected readonly following = computed(() => followingPlace(this.places(), this.zoneId()));
  /** Nothing counted is in the way any more, and the pack still hangs in its car. */
  protected readonly isReadyToLift = computed(
    () => this.following() === null && this.place()?.isClear === true && this.log.state()?.pack.isOnBench === false,
  );
  protected readonly openPart = signal<string | null>(null);
  protected readonly connectors = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? listFactRows(state.pack, profile).filter((r) => HERE.includes(r.key)) : [];
  });
  readonly #timed = computed(() => (this.#link.heardAt() > 0 ? this.#ready() : ''));
  /** What was found when the screen opened: it does not go away with the first act. */
  protected readonly interruption = linkedSignal<string, ReturnType<typeof findInterruption>>({
    source: this.#timed,
    computation: (jobId) => (jobId === '' ? null : untracked(() => this.#lookBack())),
  });

  protected readonly isFolded = linkedSignal<string, boolean>({ source: this.#timed, computation: () => false });

  constructor() {
    const shortcuts = inject(Shortcuts);
    const off = [
      shortcuts.register({ key: '.', what: 'next zone', run: () => this.#step(1) }),
      shortcuts.register({ key: ',', what: 'zone before', run: () => this.#step(-1) }),
    ];
    inject(DestroyRef).onDestroy(() => off.forEach((end) => end()));
  }

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'off' ? null : part }, replaceUrl: true });
  }

  protected pickZone(id: string): void {
    this.zoneId.set(id);
    this.openPart.set(null);
  }

  protected goOn(id: string): void {
    this.pickZone(id);
    setTimeout(() => document.querySelector<HTMLElement>('app-part-card .quick')?.focus());
  }

  protected openFromPlan(id: string): void {
    this.openPart.set(id);
    setTimeout(() => document.getElementById(`part-${id}`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected stateFact(fact: Fact): void {
    void this.log.stateFact('strip', fact);
  }

  #step(by: number): void {
    const zones = this.places();
    const at = zones.findIndex((z) => z.place.id === this.zoneId());
    const next = zones[(at + by + zones.length) % zones.length];
    if (next) this.pickZone(next.place.id);
  }

  #lookBack(): ReturnType<typeof findInterruption> {
    const [state, profile, ledger] = [this.log.kept()?.state, this.log.profile(), this.log.ledger()];
    if (!state || !profile || !ledger) return null;
    return findInterruption(
      state,
      profile,
      ledger,
      this.#link.serverNow(),
      this.log.isolation()?.lapse?.reason ?? null,
      this.log.next()?.text ?? null,
    );
  }
}
