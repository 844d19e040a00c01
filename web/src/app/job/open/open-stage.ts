import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { LIVE_VOLT, listLayers, orderCuts, type ActBody, type Fact, type PartBalance } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { map } from 'rxjs';
import { JobLog } from '../../log/job-log.ts';
import { Session } from '../../session/session.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { FindingBoard } from '../finding/finding-board.ts';
import { PhotoBoard } from '../photo/photo-board.ts';
import { PhysicalStage } from '../physical/physical-stage.ts';
import { intoCell, moveAct } from '../strip/ledger-acts.ts';
import { LedgerTable } from '../strip/ledger-table.ts';
import { Memory } from '../strip/memory.ts';
import type { LeaveOff, Move } from '../strip/part-card.ts';
import { PartList } from '../strip/part-list.ts';
import { TrayMap } from '../strip/tray-map.ts';
import { LayerDrawing } from './layer-drawing.ts';
import { OrientationForm } from './orientation-form.ts';

/** Opening the pack, layer by layer: what each lays bare, what comes off with it, which links to open first, and how it lay. */
@Component({
  selector: 'app-open-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[CdkDropListGroup, FindingBoard, LayerDrawing, LedgerTable, NzButtonModule, OrientationForm, PartList],
    ...[PhotoBoard, PhysicalStage, RouterLink, StageParts, TrayMap],
  ],
  templateUrl: './open-stage.html',
  styleUrls: ['../strip/strip-stage.less', './open-stage.less'],
})
export class OpenStage {
  protected readonly log = inject(JobLog);
  protected readonly memory = inject(Memory);
  readonly #session = inject(Session);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'layers');
  protected readonly parts = computed((): StagePart[] => {
    const strip = this.log.state()?.strip;
    return [
      { id: 'layers', name: 'Layers' },
      { id: 'links', name: 'Links' },
      { id: 'lying', name: 'How it lies' },
      { id: 'findings', name: 'Findings', count: strip?.findings.filter((f) => !f.settled).length ?? 0 },
      { id: 'photos', name: 'Photographs', count: strip?.photos.filter((p) => !p.erased).length ?? 0 },
      { id: 'ledger', name: 'Ledger', count: this.log.ledger()?.owed ?? 0 },
    ];
  });
  protected readonly live = LIVE_VOLT;
  protected readonly layers = computed(() => {
    const [state, profile, ledger] = [this.log.state(), this.log.profile(), this.log.ledger()];
    return state && profile && ledger ? listLayers(state, profile, ledger, this.log.proofTime()) : [];
  });
  protected readonly cuts = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? orderCuts(state, profile) : null;
  });
  readonly #nextId = computed(() => this.layers().find((l) => !l.isOff || l.inPlace > 0)?.place.id ?? this.layers().at(-1)?.place.id ?? '');
  /** The first layer that is still on or not counted, or the one that was picked; when it is done with, the next one is offered. */
  protected readonly layerId = linkedSignal(() => this.#nextId());
  protected readonly layer = computed(() => this.layers().find((l) => l.place.id === this.layerId()) ?? null);
  protected readonly openPart = signal<string | null>(null);
  protected readonly pickedCell = signal<string | null>(null);
  readonly #jobNumber = computed(() => this.log.kept()?.state.opened?.number ?? null);
  protected readonly maySign = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');

  constructor() {
    effect(() => {
      const [profile, number] = [this.log.profile(), this.#jobNumber()];
      if (profile && number !== null) untracked(() => void this.memory.load(profile, number));
    });
  }

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'layers' ? null : part }, replaceUrl: true });
  }

  protected stateFact(fact: Fact): void {
    void this.log.act({ type: 'fact.stated', body: { stage: 'open', fact } });
  }

  protected move(move: Move): void {
    void this.log.act(moveAct('open', move));
    this.pickedCell.set(null);
  }

  protected leaveOff(body: LeaveOff): void {
    void this.log.act({ type: 'part.leftOff', body });
  }

  protected add(body: ActBody<'part.added'>): void {
    void this.log.act({ type: 'part.added', body });
  }

  protected drop({ cell, part }: { readonly cell: string; readonly part: PartBalance }): void {
    const move = intoCell(part, cell);
    if (move) this.move(move);
  }
}
