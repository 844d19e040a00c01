/** The pack as it lies on the bench, with a figure and a mark on every module, as a picture for print. */
import type { Profile } from '../pack/profile.ts';
import type { Verdict } from '../reading/verdict.ts';
import { MARK_INKS, MARK_PATHS } from './marks.ts';
import { layOutPack, SLAB_HEIGHT } from './pack-layout.ts';
import type { Picture, Shape } from './picture.ts';

export interface PlaceShown {
  readonly place: number;
  /** Null: no mark. */
  readonly verdict: Verdict | null;
  /** Along the slab, such as `8.02`. */
  readonly text: string;
  /** Another than the one that came in. */
  readonly isNew: boolean;
}

const ENDS = 22;

export function drawPack(profile: Profile, places: readonly PlaceShown[], width = 760): Picture {
  const layout = layOutPack(profile, width);
  const shown = new Map(places.map((p) => [p.place, p]));
  const bars = layout.bars.map((bar): Shape => ({
    ...{ kind: 'rect', x: bar.x, y: bar.y + ENDS, width: bar.width, height: bar.height },
    ...(bar.isPlug ? { fill: 'silt', line: 'ink', isDashed: true } : { fill: 'tide', line: 'ink', thick: 0.5 }),
  }));
  const slabs = layout.slabs.flatMap((slab): Shape[] => {
    const { place, x, width: wide } = slab;
    const y = slab.y + ENDS;
    const [view, centre] = [shown.get(place), x + wide / 2];
    const size = Math.min(13, Math.max(8, wide * 0.55));
    return [
      { kind: 'rect', x, y, width: wide, height: SLAB_HEIGHT, fill: 'shell', line: 'ink', thick: view?.isNew ? 2.5 : 1 },
      { kind: 'text', x: centre, y: y + 16, text: slab.topSign, size, ink: 'ink', anchor: 'middle' },
      { kind: 'text', x: centre, y: y + SLAB_HEIGHT - 8, text: slab.bottomSign, size, ink: 'ink', anchor: 'middle' },
      { kind: 'text', x: centre, y: y + 40, text: `${place}`, size, ink: 'ink', anchor: 'middle', isFigure: true },
      ...(view?.verdict
        ? [{ kind: 'path', d: MARK_PATHS[view.verdict], x: centre, y: y + 58, fill: MARK_INKS[view.verdict] } as const]
        : []),
      ...(view && view.text !== ''
        ? [{ kind: 'text', x: centre + 4, y: y + 132, text: view.text, size: 12, ink: 'ink', isFigure: true, turn: -90 } as const]
        : []),
    ];
  });
  const { firstEnd, lastEnd } = profile.layout;
  return {
    width,
    height: layout.height + ENDS,
    shapes: [
      { kind: 'text', x: 0, y: 12, text: firstEnd, size: 12, ink: 'fog' },
      { kind: 'text', x: width, y: 12, text: lastEnd, size: 12, ink: 'fog', anchor: 'end' },
      ...bars,
      ...slabs,
    ],
  };
}
