/** What taking parts off does, in words and on the drawing, and which parts say nothing where something would be expected. */
import { linksOf } from './join.ts';
import type { Part, PartEffect, PartKind } from './parts.ts';
import type { Profile } from './profile.ts';

const BARES: Record<Extract<PartEffect, { kind: 'bares' }>['what'], string> = {
  carSide: 'bares the car side of the HV cables',
  case: 'opens the case',
  covers: 'bares the posts of the modules',
  outletPosts: 'bares the HV posts of the pack',
  harnessPins: 'bares pins of the sense harness',
};

/** As it follows on the name of a part: `bares the posts of the modules`. */
export function sayEffect(effect: PartEffect, profile: Pick<Profile, 'frames'>): string {
  switch (effect.kind) {
    case 'bares':
      return effect.over ? `bares the posts of ${effect.over.length} joints` : BARES[effect.what];
    case 'partsLinks':
      return `parts link ${effect.links.join(', ')}`;
    case 'partsFrame':
      return `parts every link of the ${profile.frames.find((f) => f.id === effect.frame)?.name ?? effect.frame}`;
    case 'partsHarness':
      return 'unplugs the sense harness, once all are off';
    case 'partsMounting':
      return 'loosens the pack, once all are off';
  }
}

/** Links that a part parts. */
export function linksParted({ effects }: Pick<Part, 'effects'>, profile: Pick<Profile, 'frames'>): number[] {
  const links = effects.flatMap((e) => (e.kind === 'partsLinks' ? e.links : e.kind === 'partsFrame' ? linksOf(profile)(e.frame) : []));
  return [...new Set(links)].sort((a, b) => a - b);
}

const EXPECTED: ReadonlySet<PartKind> = new Set<PartKind>(['bar', 'cover', 'cable']);

/** Bars, covers and cables that bare and part nothing: right for a floor board, a danger for a terminal cover. Those of the pack first. */
export function listWithoutEffect({ parts, layers }: Pick<Profile, 'parts' | 'layers'>): Part[] {
  const isOfPack = (part: Part): boolean => layers.some((l) => l.id === part.place);
  return parts.filter((p) => EXPECTED.has(p.kind) && p.effects.length === 0).sort((a, b) => Number(isOfPack(b)) - Number(isOfPack(a)));
}
