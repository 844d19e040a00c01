import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { blockPlaces, MARK_PATHS, type ModuleRecord, type Profile } from '@estuarine/core';
import { watchWidth } from '../../ui/element-width.ts';
import { MARK_COLOURS } from '../../ui/verdict-mark.ts';

export interface DrawnPlan {
  readonly moduleIds: readonly string[];
  readonly fromShelf: readonly string[];
  readonly blockMeanAh: readonly number[];
}

const LABEL = 76;
/** Narrower than this the drawing scrolls. */
const LEAST_PITCH = 24.5;
const BOX = 46;
const TOP_OUT = 8;
const TOP_IN = 176;

/** The pack as it came out above, as it goes in below, and a thread for every module that changes its place. */
@Component({
  selector: 'app-stack-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './stack-drawing.html',
  styleUrl: './stack-drawing.less',
})
export class StackDrawing {
  readonly profile = input.required<Profile>();
  readonly records = input.required<readonly ModuleRecord[]>();
  readonly replaced = input.required<ReadonlySet<number>>();
  readonly plan = input.required<DrawnPlan | null>();

  readonly pick = output<number>();

  readonly #width = watchWidth(1150);

  protected readonly marks = MARK_PATHS;
  protected readonly colours = MARK_COLOURS;
  protected readonly box = BOX;
  protected readonly topOut = TOP_OUT;
  protected readonly topIn = TOP_IN;
  protected readonly width = computed(() => Math.max(this.#width(), LABEL + LEAST_PITCH * this.records().length));
  protected readonly pitch = computed(() => (this.width() - LABEL) / this.records().length);
  protected readonly hottest = computed(() => Math.max(...this.profile().heatWeights));
  protected readonly blocks = computed(() =>
    blockPlaces(this.profile().blocks).map((b, i) => ({
      ...b,
      x: this.x(b.from) + 2,
      width: this.pitch() * (b.to - b.from + 1) - 4,
      mean: this.plan()?.blockMeanAh[i],
    })),
  );
  protected readonly threads = computed(() => {
    const plan = this.plan();
    if (!plan) return [];
    const to = new Map(plan.moduleIds.map((id, i) => [id, i + 1]));
    const hot = this.hottest() * 0.92;
    return this.records().flatMap((r) => {
      const place = to.get(r.moduleId);
      if (place === undefined) return [];
      const [a, b] = [this.centre(r.place), this.centre(place)];
      const [y, z] = [TOP_OUT + BOX, TOP_IN];
      const path = `M${a} ${y}C${a} ${y + 50} ${b} ${z - 50} ${b} ${z}`;
      return [{ id: r.moduleId, path, isMoved: place !== r.place, isHot: (this.profile().heatWeights[place - 1] ?? 0) >= hot }];
    });
  });
  protected readonly goesIn = computed(() => {
    const plan = this.plan();
    if (!plan) return [];
    const fromShelf = new Set(plan.fromShelf);
    const from = new Map(this.records().map((r) => [r.moduleId, r.place]));
    return plan.moduleIds.map((id, i) => ({
      id,
      place: i + 1,
      isShelf: fromShelf.has(id),
      label: fromShelf.has(id) ? id : String(from.get(id) ?? id),
      heat: (this.profile().heatWeights[i] ?? 1) / this.hottest(),
    }));
  });
  protected readonly summary = computed(() => {
    const moved = this.threads().filter((t) => t.isMoved).length;
    const plan = this.plan();
    return plan
      ? `Stack in its new order: ${moved} modules change place, ${plan.fromShelf.length} come from the shelf`
      : 'Pack as it came out';
  });

  protected x(place: number): number {
    return LABEL + (place - 1) * this.pitch();
  }

  protected centre(place: number): number {
    return this.x(place) + this.pitch() / 2;
  }
}
