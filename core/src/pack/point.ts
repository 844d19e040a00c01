/** Where dead is proven. */
import * as z from 'zod';

export const POINTS = ['carSide', 'outletPosts', 'inverterPosts'] as const;
/** `carSide`: the HV cables' ends toward the car; `outletPosts`: the pack's own posts; `inverterPosts`: at the far end of the cables. */
export type PointAt = (typeof POINTS)[number];

export const pointSchema = z.strictObject({
  at: z.enum(POINTS),
  /** In the words of the profile. */
  label: z.string().trim().min(1).max(120),
});
export type Point = z.infer<typeof pointSchema>;

/** Whether a proof there says that the car's side of the cables is dead; one at the pack's own posts does not. */
export function provesCarSide({ at }: Pick<Point, 'at'>): boolean {
  return at === 'carSide' || at === 'inverterPosts';
}

export function isSamePoint(a: Point, b: Point): boolean {
  return a.at === b.at && a.label === b.label;
}
