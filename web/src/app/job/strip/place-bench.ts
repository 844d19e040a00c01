import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, model, output } from '@angular/core';
import type { PartBalance, PlaceView, Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { intoCell, moveAct } from './ledger-acts.ts';
import { recallForJob } from './memory.ts';
import type { Move } from './part-card.ts';
import { PartList } from './part-list.ts';
import { TrayMap } from './tray-map.ts';

/** The parts of one zone or layer beside the tray that they go to: the same work while stripping and while opening. */
@Component({
  selector: 'app-place-bench',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, PartList, TrayMap],
  hostDirectives: [CdkDropListGroup],
  template: `
    @if (log.ledger(); as ledger) {
      <section class="parts" [attr.aria-label]="'Parts of: ' + place().place.name">
        <h2>{{ place().place.name }}</h2>
        @if (place().place.note) {
          <p class="muted">{{ place().place.note }}</p>
        }
        <ng-content select="[above-parts]" />
        <app-part-list
          [place]="place()"
          [balance]="ledger"
          [profile]="log.profile()!"
          [stage]="stage()"
          [hints]="memory()?.hints ?? []"
          [maySign]="maySign()"
          [isPackInCar]="!log.state()?.pack?.isOnBench"
          [picked]="pickedCell()"
          [(open)]="openPart"
          (moved)="move($event)"
          (leftOff)="log.act({ type: 'part.leftOff', body: $event })"
          (cleared)="goOn()"
          (added)="log.act({ type: 'part.added', body: $event })"
        />
        @if (following(); as next) {
          <button
            nz-button
            type="button"
            data-next-place
            [nzType]="place().isClear ? 'primary' : 'default'"
            (click)="wentOn.emit(next.place.id)"
          >
            On to {{ next.place.name }}, {{ next.inPlace }} still in
          </button>
        }
      </section>
      <section class="side" aria-label="Where the pieces lie">
        <ng-content select="[above-tray]" />
        <app-tray-map [balance]="ledger" [picked]="pickedCell()" (pick)="pickedCell.set($event)" (dropped)="drop($event)" />
        <ng-content />
      </section>
    }
  `,
  styleUrl: './place-bench.less',
})
export class PlaceBench {
  readonly place = input.required<PlaceView>();
  readonly stage = input.required<Stage>();
  /** The place that comes after this one and is not clear; null where there is none. */
  readonly following = input<PlaceView | null>(null);
  readonly openPart = model<string | null>(null);

  readonly wentOn = output<string>();

  protected readonly log = inject(JobLog);
  readonly #session = inject(Session);
  protected readonly memory = recallForJob();

  protected readonly maySign = computed(() => (this.#session.person()?.role ?? 'apprentice') !== 'apprentice');
  readonly #placeId = computed(() => this.place().place.id);
  /** Picked by hand for the next pieces of this place. */
  protected readonly pickedCell = linkedSignal<string, string | null>({ source: this.#placeId, computation: () => null });

  protected goOn(): void {
    const next = this.following();
    if (next) this.wentOn.emit(next.place.id);
  }

  protected move(move: Move): void {
    void this.log.act(moveAct(this.stage(), move));
    this.pickedCell.set(null);
  }

  protected drop({ cell, part }: { readonly cell: string; readonly part: PartBalance }): void {
    const move = intoCell(part, cell);
    if (move) this.move(move);
  }
}
