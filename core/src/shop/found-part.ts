/** Parts that jobs find and profiles do not know, and how a profile takes one over. */
import type { PartKind } from '../pack/parts.ts';
import type { Profile } from '../pack/profile.ts';

/** A part that a job found and the profile does not know. */
export interface FoundPart {
  readonly kind: PartKind;
  readonly name: string;
  readonly place: string;
  readonly where: string;
  readonly size: string;
  readonly count: number | null;
  readonly isHidden: boolean;
  readonly isProposed: boolean;
}

/**
 * The profile with a part that a job found; the tool, the torque and the cautions are still to be said. A part of that name at that
 * place which is there already is left as it is, and so is a place that the profile no longer has.
 */
export function adoptPart(profile: Profile, found: FoundPart): Profile {
  const { name, place, where, size, count, isHidden } = found;
  const isKnown = profile.parts.some((p) => p.place === place && p.name.toLowerCase() === name.toLowerCase());
  const isPlace = [...profile.zones, ...profile.layers].some((p) => p.id === place);
  if (isKnown || !isPlace) return profile;
  const slug =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 50) || 'part';
  let id = slug;
  for (let n = 2; profile.parts.some((p) => p.id === id); n++) id = `${slug}-${n}`;
  const part = { id, kind: found.kind, name, place, where, size, count, tool: '', torque: null, isHidden, caution: '', effects: [] };
  return { ...profile, parts: [...profile.parts, part] };
}
