import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, linkedSignal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { followingPlace, LIVE_VOLT, listLayers, orderCuts, type Fact } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { map } from 'rxjs';
import { JobLog } from '../../transport/job-log.ts';
import { Shortcuts } from '../../ui/shortcuts.ts';
import { StageParts, type StagePart } from '../../ui/stage-parts.ts';
import { FindingBoard } from '../finding/finding-board.ts';
import { PhotoBoard } from '../finding/photo-board.ts';
import { PhysicalStage } from '../physical/physical-stage.ts';
import { LedgerTable } from '../strip/ledger-table.ts';
import { PlaceBench } from '../strip/place-bench.ts';
import { LayerDrawing } from './layer-drawing.ts';
import { OrientationForm } from './orientation-form.ts';

/** Opening the pack, layer by layer: what each lays bare, what comes off with it, which links to open first, and how it lay. */
@Component({
  selector: 'app-open-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[FindingBoard, LayerDrawing, LedgerTable, NzButtonModule, OrientationForm],
    ...[PhotoBoard, PhysicalStage, PlaceBench, RouterLink, StageParts],
  ],
  templateUrl: './open-stage.html',
  styleUrls: ['../strip/strip-stage.less', './open-stage.less'],
})
export class OpenStage {
  protected readonly log = inject(JobLog);
  readonly #router = inject(Router);
  readonly #route = inject(ActivatedRoute);

  readonly #part = toSignal(this.#route.queryParamMap.pipe(map((q) => q.get('part'))), { initialValue: null });
  protected readonly part = computed(() => this.#part() ?? 'layers');
  protected readonly parts = computed((): StagePart[] => {
    const seen = this.log.state()?.finding;
    return [
      { id: 'layers', name: 'Layers' },
      { id: 'links', name: 'Links' },
      { id: 'lying', name: 'How it lies' },
      { id: 'findings', name: 'Findings', count: seen?.findings.filter((f) => !f.settled).length ?? 0 },
      { id: 'photos', name: 'Photographs', count: seen?.photos.filter((p) => !p.erased).length ?? 0 },
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
  protected readonly following = computed(() => followingPlace(this.layers(), this.layerId()));
  protected readonly layer = computed(() => this.layers().find((l) => l.place.id === this.layerId()) ?? null);

  constructor() {
    const shortcuts = inject(Shortcuts);
    const step = (by: number): void => {
      const layers = this.layers();
      const to = layers[layers.findIndex((l) => l.place.id === this.layerId()) + by];
      if (to) this.layerId.set(to.place.id);
    };
    const offs = [
      shortcuts.register({ key: '.', what: 'next layer', run: () => step(1) }),
      shortcuts.register({ key: ',', what: 'layer before', run: () => step(-1) }),
    ];
    inject(DestroyRef).onDestroy(() => offs.forEach((off) => off()));
  }

  protected show(part: string): void {
    void this.#router.navigate([], { queryParams: { part: part === 'layers' ? null : part }, replaceUrl: true });
  }

  protected stateFact(fact: Fact): void {
    void this.log.stateFact('open', fact);
  }
}
