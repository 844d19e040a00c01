import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { findInterruption, listPlaces, type ActBody, type PartBalance } from '@estuarine/core';
import { map } from 'rxjs';
import { JobLog } from '../../log/job-log.ts';
import { Link } from '../../log/link.ts';
import { Session } from '../../session/session.ts';
import { Shortcuts } from '../../ui/shortcuts.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { FindingBoard } from '../finding/finding-board.ts';
import { PhotoBoard } from '../photo/photo-board.ts';
import { FactChoices } from '../physical/fact-choices.ts';
import { listFactRows } from '../physical/fact-rows.ts';
import { intoCell, moveAct } from './ledger-acts.ts';
import { LedgerTable } from './ledger-table.ts';
import { LiftPlan } from './lift-plan.ts';
import { Memory } from './memory.ts';
import type { LeaveOff, Move } from './part-card.ts';
import { PartList } from './part-list.ts';
import { StageTimes } from './stage-times.ts';
import { TransferLedger } from './transfer-ledger.ts';
import { TrayMap } from './tray-map.ts';
import { VehiclePlan } from './vehicle-plan.ts';

/** The way to the pack: zone by zone on the plan of the vehicle, group by group into the tray, and the ledger of it. */
@Component({
  selector: 'app-strip-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[CdkDropListGroup, FactChoices, FindingBoard, LedgerTable, LiftPlan, PartList, PhotoBoard],
    ...[StageParts, StageTimes, TransferLedger, TrayMap, VehiclePlan],
  ],
  templateUrl: './strip-stage.html',
  styleUrl: './strip-stage.less',
})
export class StripStage {
  protected readonly log = inject(JobLog);
  protected readonly memory = inject(Memory);
  readonly #link = inject(Link);
  readonly #session = inject(Session);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'off');
  protected readonly parts = computed((): StagePart[] => {
    const strip = this.log.state()?.strip;
    return [
      { id: 'off', name: 'Take off' },
      { id: 'ledger', name: 'Ledger', count: this.log.ledger()?.owed ?? 0 },
      { id: 'findings', name: 'Findings', count: strip?.findings.filter((f) => !f.settled).length ?? 0 },
      { id: 'photos', name: 'Photographs', count: strip?.photos.filter((p) => !p.erased).length ?? 0 },
      { id: 'lift', name: 'Lift out' },
      { id: 'exchange', name: 'Exchange' },
      { id: 'times', name: 'Times' },
    ];
  });
  protected readonly places = computed(() => {
    const [ledger, profile] = [this.log.ledger(), this.log.profile()];
    return ledger && profile ? listPlaces(profile.zones, ledger) : [];
  });
  /** The first zone that is not clear when the screen opens; afterwards the one that was picked. */
  readonly #ready = computed(() => (this.log.phase() === 'ready' ? this.log.jobId() : ''));
  protected readonly zoneId = linkedSignal<string, string>({
    source: this.#ready,
    computation: () => untracked(() => (this.places().find((p) => !p.isClear) ?? this.places()[0])?.place.id ?? ''),
  });
  protected readonly place = computed(() => this.places().find((p) => p.place.id === this.zoneId()) ?? this.places()[0] ?? null);
  protected readonly openPart = signal<string | null>(null);
  protected readonly pickedCell = signal<string | null>(null);
  readonly #jobNumber = computed(() => this.log.kept()?.state.opened?.number ?? null);
  protected readonly maySign = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');
  protected readonly connectors = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? listFactRows(state.pack, profile).filter((r) => r.key === 'connectors' || r.key === 'pack') : [];
  });
  /** What was found when the screen opened: it does not go away with the first act. */
  readonly #timed = computed(() => (this.#link.heardAt() > 0 ? this.#ready() : ''));
  protected readonly interruption = linkedSignal<string, ReturnType<typeof findInterruption>>({
    source: this.#timed,
    computation: (jobId) => (jobId === '' ? null : untracked(() => this.#lookBack())),
  });

  constructor() {
    effect(() => {
      const [profile, number] = [this.log.profile(), this.#jobNumber()];
      if (profile && number !== null) untracked(() => void this.memory.load(profile, number));
    });
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
    this.pickedCell.set(null);
  }

  protected openFromPlan(id: string): void {
    this.openPart.set(id);
    setTimeout(() => document.getElementById(`part-${id}`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected move(move: Move): void {
    void this.log.act(moveAct('strip', move));
    this.pickedCell.set(null);
  }

  protected leaveOff(body: LeaveOff): void {
    void this.log.act({ type: 'part.leftOff', body });
  }

  protected add(body: ActBody<'part.added'>): void {
    void this.log.act({ type: 'part.added', body });
  }

  /** Dragged to a cell: all that is still in. */
  protected drop({ cell, part }: { readonly cell: string; readonly part: PartBalance }): void {
    const move = intoCell(part, cell);
    if (move) this.move(move);
  }

  protected stateFact(fact: ActBody<'fact.stated'>['fact']): void {
    void this.log.act({ type: 'fact.stated', body: { stage: 'strip', fact } });
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
    return findInterruption(state, profile, ledger, this.#link.serverNow(), this.log.isolation()?.lapse?.reason ?? null);
  }
}
