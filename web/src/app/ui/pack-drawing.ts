import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { layOutPack, MARK_PATHS, nearestLink, nearestPlace, SLAB_HEIGHT, type Profile, type Verdict } from '@estuarine/core';
import { watchWidth } from './element-width.ts';
import { MARK_COLOURS } from './verdict-mark.ts';

/** What the drawing says of one place. */
export interface PlaceView {
  readonly place: number;
  readonly verdict: Verdict | null;
  /** Shown on the slab under its number. */
  readonly text: string;
  /** Deviation from the crowd in its own unit, positive on the bad side; drawn under the slab. */
  readonly deviation: number | null;
  readonly deviationText: string;
  /** Verdict by the figure that is drawn; the slab carries the verdict by all. */
  readonly figureVerdict: Verdict;
  readonly isPending: boolean;
}

/** Something that sits between or in modules. */
export interface DrawingPin {
  /** Modules up from the negative end; 8.0 is the joint of modules 8 and 9. */
  readonly at: number;
  readonly text: string;
}

/** A terminal fastener on the drawing, by how far its torque is. */
export interface NutView {
  readonly place: number;
  readonly side: 'near' | 'far';
  readonly state: 'open' | 'once' | 'tight' | 'wrong';
}

const GRAPH = 76;

/** The pack as it lies on the bench: slabs with posts and polarity, bars on both sides. The same drawing everywhere. */
@Component({
  selector: 'app-pack-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './pack-drawing.html',
  styleUrl: './pack-drawing.less',
  host: { '(pointerup)': 'onPointer($event)' },
})
export class PackDrawing {
  readonly profile = input.required<Profile>();
  readonly places = input.required<readonly PlaceView[]>();
  readonly selected = input<number | null>(null);
  readonly openLinks = input<readonly number[]>([]);
  readonly isPlugIn = input(true);
  readonly areBare = input(false);
  /** Highest voltage of the island that each place belongs to, to mark what is live. */
  readonly islandVolts = input<readonly number[]>([]);
  /** A source across the ends, volt; null where there is none. */
  readonly sourceVolt = input<number | null>(null);
  readonly pin = input<DrawingPin | null>(null);
  /** What lies bare once the part that is spoken of is off. */
  readonly bared = input<'ends' | 'posts' | 'case' | null>(null);
  /** Links marked for what the words beside the drawing speak of. */
  readonly markedLinks = input<readonly number[]>([]);
  /** The pack lies bottom up: near and far side change places. */
  readonly isTurnedOver = input(false);
  readonly nuts = input<readonly NutView[]>([]);
  readonly graphTitle = input('');
  /** Least deviation that fills the graph, so that noise does not look like faults. */
  readonly graphLeast = input(0);
  readonly label = input.required<string>();

  readonly pickPlace = output<number>();
  readonly pickLink = output<number>();

  readonly #element = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly #width = watchWidth(840);

  protected readonly hasGraph = computed(() => this.places().some((p) => p.deviation !== null));
  protected readonly layout = computed(() => layOutPack(this.profile(), this.#width(), this.hasGraph() ? GRAPH : 0, this.isTurnedOver()));
  protected readonly viewBox = computed(() => `0 0 ${this.layout().width} ${this.layout().height}`);
  protected readonly marks = MARK_PATHS;
  protected readonly colours = MARK_COLOURS;
  protected readonly slabHeight = SLAB_HEIGHT;

  readonly #views = computed(() => new Map(this.places().map((p) => [p.place, p])));
  readonly #open = computed(() => new Set(this.openLinks()));
  readonly #scale = computed(() => {
    const most = Math.max(...this.places().map((p) => Math.abs(p.deviation ?? 0)), this.graphLeast());
    return most > 0 ? (GRAPH - 28) / most : 0;
  });

  /** Where the pin points: within the slab that it lies in, from its negative end. */
  protected readonly pinAt = computed(() => {
    const pin = this.pin();
    if (!pin) return null;
    const { slabs } = this.layout();
    const slab = slabs[Math.min(slabs.length, Math.max(1, Math.ceil(pin.at - 1e-9))) - 1];
    if (!slab) return null;
    const share = pin.at - (slab.place - 1);
    // from its minus post to its plus post
    const y = slab.topSign === '−' ? slab.y + share * SLAB_HEIGHT : slab.y + (1 - share) * SLAB_HEIGHT;
    return { x: slab.x + slab.width / 2, y, text: pin.text, isLeft: slab.x > this.layout().width / 2 };
  });
  protected readonly sides = computed(() => {
    const { nearSide, farSide } = this.profile().layout;
    return this.isTurnedOver() ? `bottom up: ${nearSide} above, ${farSide} below` : `${farSide} above, ${nearSide} below`;
  });
  protected readonly nutMarks = computed(() => {
    const { slabs } = this.layout();
    return this.nuts().flatMap(({ place, side, state }) => {
      const slab = slabs[place - 1];
      if (!slab) return [];
      const isAbove = (side === 'far') !== this.isTurnedOver();
      return [{ place, state, x: slab.x + slab.width / 2, y: isAbove ? slab.y - 5 : slab.y + SLAB_HEIGHT + 5 }];
    });
  });
  /** From the plus end to the minus end, over the top. */
  protected readonly sourcePath = computed(() => {
    const { slabs, width } = this.layout();
    const [first, last] = [slabs[0], slabs.at(-1)];
    if (!first || !last) return '';
    const [x, y] = [first.x + first.width / 2, first.y - 8];
    const [u, v] = [last.x + last.width / 2, last.row === 0 ? last.y - 8 : last.y + SLAB_HEIGHT + 8];
    return last.row === 0 ? `M${x} ${y}V4H${u}V${v}` : `M${x} ${y}V4H${width - 4}V${v}H${u}`;
  });

  /** Whether the post at this end of a slab is marked as bare: every one, or the two ends of the string. */
  protected isBared(place: number, sign: string): boolean {
    const bared = this.bared();
    if (bared === 'posts') return true;
    const isEnd = (place === 1 && sign === '−') || (place === this.profile().moduleCount && sign === '+');
    return bared === 'ends' && isEnd;
  }

  protected isMarked(link: number): boolean {
    return this.markedLinks().includes(link);
  }

  protected view(place: number): PlaceView | undefined {
    return this.#views().get(place);
  }

  protected isOpen(link: number, isPlug: boolean): boolean {
    return isPlug ? !this.isPlugIn() : this.#open().has(link);
  }

  protected isLive(place: number): boolean {
    return this.areBare() && (this.islandVolts()[place - 1] ?? 0) >= 60;
  }

  /** Only the bad side grows downwards; the other side is drawn as a short stub above the line. */
  protected drop(place: number): number {
    const deviation = this.view(place)?.deviation ?? 0;
    return Math.max(deviation * this.#scale(), deviation < 0 ? Math.max(-10, deviation * this.#scale()) : 2);
  }

  protected onPointer(event: PointerEvent): void {
    const box = this.#element.nativeElement.querySelector('svg')?.getBoundingClientRect();
    if (!box || event.clientY < box.top || event.clientY > box.bottom) return;
    const layout = this.layout();
    const x = ((event.clientX - box.left) * layout.width) / box.width;
    const y = ((event.clientY - box.top) * layout.height) / box.height;
    const isOnSlab = layout.slabs.some((s) => y > s.y + 22 && y < s.y + SLAB_HEIGHT - 22);
    const link = isOnSlab ? null : nearestLink(layout, x, y);
    if (link !== null) this.pickLink.emit(link);
    else this.pickPlace.emit(nearestPlace(layout, x, y));
  }
}
