/** What joins two posts of a string, and by which part. A link is the place between module k and module k + 1, counted from 1. */
import * as z from 'zod';
import { postName, type PostName } from './post.ts';

export const JOIN_KINDS = ['bar', 'frame', 'eyelet', 'cable', 'bracket', 'plug'] as const;

export const joinSchema = z.strictObject({
  /** The more negative post first, such as `3+` and `4-`. */
  a: z.string(),
  b: z.string(),
  /** The part that makes it; `id` is the frame's, else the name of the part. */
  by: z.strictObject({ kind: z.enum(JOIN_KINDS), id: z.string() }),
});
/** Two posts that a part joins now. */
export type Join = Readonly<z.infer<typeof joinSchema>>;

/** What of a profile tells how the modules of a string are joined. */
export interface StringPlan {
  readonly moduleCount: number;
  readonly frames: readonly { readonly id: string; readonly links: readonly number[]; readonly opensAsOne: boolean }[];
  readonly bars: readonly { readonly link: number; readonly kind: 'bar' | 'eyelet' | 'cable'; readonly name: string }[];
  readonly plug: { readonly name: string; readonly opensLink: number | null };
}

/**
 * Where posts of a string lie together under a cover: joint k is the plus of module k and the minus of module k + 1; 0 and the last are
 * the ends of the string.
 */
export function jointsOf({ moduleCount }: Pick<StringPlan, 'moduleCount'>): number[] {
  return Array.from({ length: moduleCount + 1 }, (_, k) => k);
}

/** The posts of a joint: two, or one at an end of the string. */
export function postsOfJoint(joint: number, moduleCount: number): PostName[] {
  return [...(joint > 0 ? [postName(joint, '+')] : []), ...(joint < moduleCount ? [postName(joint + 1, '-')] : [])];
}

/** Gives the links of a frame by its id; none for a frame that is not there. */
export function linksOf({
  frames,
}: {
  readonly frames: readonly { readonly id: string; readonly links: readonly number[] }[];
}): (frame: string) => readonly number[] {
  return (id) => frames.find((f) => f.id === id)?.links ?? [];
}

/** The part that joins a link by the profile. */
function partOfLink({ plug, frames, bars }: StringPlan, link: number): Join['by'] {
  if (plug.opensLink === link) return { kind: 'plug', id: plug.name };
  const frame = frames.find((f) => f.links.includes(link));
  if (frame) return { kind: 'frame', id: frame.id };
  const bar = bars.find((b) => b.link === link);
  return bar ? { kind: bar.kind, id: bar.name } : { kind: 'bar', id: `link ${link}` };
}

/** The join that closes a link, by the part that the profile has there. */
export function joinOfLink(profile: StringPlan, link: number): Join {
  return { a: postName(link, '+'), b: postName(link + 1, '-'), by: partOfLink(profile, link) };
}

/** Every link of a whole pack, plug in. */
export function joinsOfWhole(profile: StringPlan): Join[] {
  return Array.from({ length: profile.moduleCount - 1 }, (_, i) => joinOfLink(profile, i + 1));
}

/** The link that a join closes; null where it joins posts that are no neighbours in the string. */
export function linkOf({ a, b }: Join): number | null {
  const from = Number.parseInt(a, 10);
  return a === postName(from, '+') && b === postName(from + 1, '-') ? from : null;
}

/** Links that nothing joins, the plug's among them while it is out, ascending. */
export function listOpenLinks(joins: readonly Join[], moduleCount: number): number[] {
  const closed = new Set(joins.map(linkOf));
  return Array.from({ length: moduleCount - 1 }, (_, i) => i + 1).filter((k) => !closed.has(k));
}

/** Links that a hand opened: all that are open but the plug's. */
export function listOpenBars(
  pack: { readonly joins: readonly Join[] },
  { moduleCount, plug }: Pick<StringPlan, 'moduleCount' | 'plug'>,
): number[] {
  return listOpenLinks(pack.joins, moduleCount).filter((k) => k !== plug.opensLink);
}

/** The joins with these links closed or opened, in string order; joins of other posts stay as they are. */
export function withLinks(joins: readonly Join[], links: readonly Join[], areJoined: boolean): Join[] {
  const rest = joins.filter((j) => !links.some((k) => k.a === j.a && k.b === j.b));
  return areJoined ? links.reduce(insertLink, rest) : rest;
}

function insertLink(joins: readonly Join[], join: Join): Join[] {
  const place = (j: Join): number => linkOf(j) ?? Infinity;
  const link = place(join);
  const at = joins.findIndex((j) => place(j) > link);
  return at < 0 ? [...joins, join] : [...joins.slice(0, at), join, ...joins.slice(at)];
}
