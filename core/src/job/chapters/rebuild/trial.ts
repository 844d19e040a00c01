/** What bars would do before they are fitted: the stack as the modules really lie, with what is on and what is in the hand. */
import { checkBars, type Bar, type BarsAnswer } from '../../../bars/check.ts';
import type { PackState } from '../../../pack/effect.ts';
import { joinOfLink, linkOf } from '../../../pack/join.ts';
import { postName } from '../../../pack/post.ts';
import { blockPlaces, plusSide, type Profile } from '../../../pack/profile.ts';

/** What can be taken into the hand: a frame, or a bar by itself. */
export interface Held {
  readonly id: string;
  readonly name: string;
  readonly links: readonly number[];
  readonly side: 'near' | 'far';
}

/** It, as somebody may be about to lay it: where it belongs, or not. */
export interface InHand extends Held {
  /** Modules towards the last end that it lies off its place; 0 where it belongs. */
  readonly shift: number;
  /** On the other side of the stack. */
  readonly isOtherSide: boolean;
}

/** A frame of the profile by its id; null where there is none. */
export function heldFrame({ frames }: Profile, id: string): Held | null {
  return frames.find((f) => f.id === id) ?? null;
}

/** A bar or eyelet by itself. */
export function heldBar(profile: Profile, link: number): Held {
  const { id } = joinOfLink(profile, link).by;
  return { id: `link-${link}`, name: id, links: [link], side: plusSide(profile, link) };
}

export interface Tried extends BarsAnswer {
  /** Bars in the hand that find no post where they would lie. */
  readonly loose: number;
}

/**
 * What the stack is as the modules really lie, with the bars that are on and the frame in the hand: what it joins, leaves open or shorts.
 * @param volts and milliohms of each place, place 1 first
 */
export function tryFrame(
  pack: PackState,
  profile: Profile,
  volts: readonly number[],
  milliohms: readonly (number | null)[],
  hand: InHand | null,
): Tried | null {
  const { moduleCount, moduleType } = profile;
  const filled = pack.places.flatMap(({ moduleId, isTurned }, i) => (moduleId === null ? [] : [{ place: i + 1, isTurned }]));
  if (filled.length === 0) return null;
  const lying = new Set(filled.map((f) => f.place));
  const isThere = (bar: Bar): boolean => bar.every((post) => lying.has(Number.parseInt(post, 10)));
  const on = pack.joins.map((j): Bar => [j.a, j.b]).filter(isThere);
  const inHand = hand ? barsOf(hand, profile) : { bars: [], loose: 0 };
  const answer = checkBars({
    modules: filled.map(({ place, isTurned }) => ({
      position: place,
      volt: Math.abs(volts[place - 1] ?? moduleType.nominalVolt),
      milliohm: milliohms[place - 1] ?? moduleType.typicalMilliohm,
      turned: isTurned,
    })),
    bars: [...on, ...inHand.bars.filter(isThere)],
    outputs: { positive: postName(filled.at(-1)?.place ?? 1, '+'), negative: postName(filled[0]?.place ?? 1, '-') },
    channels: blockPlaces(profile.blocks)
      .map(({ from, to }, i) => ({ id: String(i + 1), upper: postName(to, '+'), lower: postName(from, '-') }))
      .filter((c) => isThere([c.upper, c.lower])),
    map: Array.from({ length: moduleCount - 1 }, (_, i): Bar => {
      const { a, b } = joinOfLink(profile, i + 1);
      return [a, b];
    }),
  });
  return answer.kind === 'answer' ? { ...answer.value, loose: inHand.loose + inHand.bars.filter((b) => !isThere(b)).length } : null;
}

/** The posts that bars would join where they are held. */
function barsOf({ links, side: home, shift, isOtherSide }: InHand, profile: Profile): { readonly bars: Bar[]; readonly loose: number } {
  const side = (home === 'near') === !isOtherSide ? 'near' : 'far';
  const postOn = (place: number): string => postName(place, plusSide(profile, place) === side ? '+' : '-');
  const spans = links.map((link) => [link + shift, link + shift + 1] as const);
  const fitting = spans.filter(([a, b]) => a >= 1 && b <= profile.moduleCount);
  return { bars: fitting.map(([a, b]): Bar => [postOn(a), postOn(b)]), loose: spans.length - fitting.length };
}

/** Links that are joined now, ascending. */
export function joinedLinks(pack: PackState): number[] {
  return pack.joins.flatMap((j) => linkOf(j) ?? []).sort((a, b) => a - b);
}
