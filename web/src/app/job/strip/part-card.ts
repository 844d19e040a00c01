import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import {
  CONDITION_NAMES,
  CONDITIONS,
  countInPlace,
  isFit,
  spotName,
  usualSpot,
  type ActBody,
  type Condition,
  type Lot,
  type PartBalance,
  type Spot,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { PartGlyph } from './part-glyph.ts';

/** Pieces going from one spot to another, as the ledger takes them; the stage is added by whoever shows this. */
export type Move = Omit<ActBody<'part.moved'>, 'stage'>;
export type LeaveOff = ActBody<'part.leftOff'>;

const IN_PLACE: Spot = { kind: 'inPlace' };

/** One group of parts: taken off by one press, or by count, condition and spot; put back from where it lies. */
@Component({
  selector: 'app-part-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, PartGlyph],
  templateUrl: './part-card.html',
  styleUrl: './part-card.less',
})
export class PartCard {
  readonly view = input.required<PartBalance>();
  readonly isOpen = input(false);
  /** Cell that pieces go to unless another is picked; null where the tray is full. */
  readonly cell = input<string | null>(null);
  /** The pack hangs in its vehicle: what holds it there can go in. */
  readonly isPackInCar = input(true);
  /** A technician or the lead: may sign for what is left off. */
  readonly maySign = input(false);

  readonly toggled = output();
  readonly moved = output<Move>();
  readonly leftOff = output<LeaveOff>();

  protected readonly conditions = CONDITIONS;
  protected readonly names = CONDITION_NAMES;
  protected readonly spotName = spotName;
  protected readonly inPlace = computed(() => countInPlace(this.view()));
  readonly #rest = computed(() => Math.max(1, this.inPlace() ?? 1));
  /** How many pieces the next press moves; all that are in unless somebody says otherwise. */
  protected readonly count = linkedSignal(() => String(this.#rest()));
  protected readonly pieces = computed(() => {
    const text = this.count().trim();
    return /^\d{1,3}$/.test(text) ? Number(text) : 0;
  });
  protected readonly condition = signal<Condition>('good');
  protected readonly target = signal<'tray' | 'bag' | 'onPart' | 'stud' | 'scrapped'>('tray');
  protected readonly bag = signal('');
  protected readonly reason = signal('');
  protected readonly followUp = signal('');
  /** Where the counted pieces go; null while that is not said in full. */
  protected readonly spot = computed((): Spot | null => {
    switch (this.target()) {
      case 'tray': {
        const cell = this.cell();
        return cell === null ? null : { kind: 'tray', cell };
      }
      case 'bag': {
        const label = this.bag().trim();
        return label === '' ? null : { kind: 'bag', label };
      }
      default:
        return { kind: this.target() as 'onPart' | 'stud' | 'scrapped' };
    }
  });
  /** Where all of them go by one press. */
  protected readonly quickSpot = computed((): Spot => usualSpot(this.view().part, this.cell()));
  protected readonly lots = computed(() => this.view().lots.filter((l) => l.count > 0 && l.spot.kind !== 'scrapped'));
  /** What one press puts back: fit pieces, never a broken one or one of an earlier hand. */
  protected readonly quickLot = computed(() => (this.view().owed > 0 ? (this.lots().find((l) => isFit(l.condition)) ?? null) : null));
  /** Bolts that hold the pack wait for it; by count, condition and spot they can be said to be in at any time. */
  protected readonly waitsForPack = computed(
    () => !this.isPackInCar() && this.quickLot() !== null && this.view().part.effects.some((e) => e.kind === 'partsMounting'),
  );
  protected readonly torque = computed(() => this.view().part.torque);

  protected takeAll(): void {
    const count = this.inPlace() ?? this.pieces();
    if (count > 0) this.#move(count, IN_PLACE, this.quickSpot(), 'good');
  }

  protected takeSome(): void {
    const to = this.spot();
    if (to && this.pieces() > 0) this.#move(this.pieces(), IN_PLACE, to, this.condition());
    this.condition.set('good');
  }

  protected sayAbsent(): void {
    if (this.pieces() > 0) this.#move(this.pieces(), IN_PLACE, { kind: 'absent' }, 'good');
  }

  /** No more than is owed. */
  protected backCount(lot: Lot): number {
    return Math.min(lot.count, Math.max(1, this.view().owed));
  }

  protected putBack(lot: Lot): void {
    this.#move(this.backCount(lot), lot.spot, IN_PLACE, lot.condition);
  }

  protected scrap(lot: Lot): void {
    this.#move(lot.count, lot.spot, { kind: 'scrapped' }, lot.condition);
  }

  protected putNew(): void {
    this.#move(this.view().toOrder, { kind: 'new' }, IN_PLACE, 'good');
  }

  protected leave(): void {
    const { part, owed } = this.view();
    if (this.reason().trim().length < 8 || this.followUp().trim() === '') return;
    this.leftOff.emit({ partId: part.id, count: owed, reason: this.reason().trim(), followUp: this.followUp().trim() });
    this.reason.set('');
    this.followUp.set('');
  }

  protected step(by: number): void {
    this.count.set(String(Math.max(1, this.pieces() + by)));
  }

  #move(count: number, from: Spot, to: Spot, condition: Condition): void {
    this.moved.emit({ partId: this.view().part.id, count, from, to, condition });
  }
}
