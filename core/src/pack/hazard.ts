/**
 * How a pack may stand, for what can be touched: every field is the more hazardous of what the record allows, so that the hazards of
 * two accounts joined are at least those of either.
 */
import type { PackState } from './effect.ts';
import { listOpenLinks } from './join.ts';

export interface Hazards {
  readonly mayBeInCar: boolean;
  readonly mayBeOnBench: boolean;
  /** Car side of the HV cables: bare, and perhaps still joined to the pack. */
  readonly isCarSideBare: boolean;
  readonly mayCablesBeOn: boolean;
  readonly areOutletPostsBare: boolean;
  /** Nobody said that the posts are capped themselves: on the bench they lie bare. */
  readonly areOutletPostsUncapped: boolean;
  readonly mayContactorsBeShut: boolean;
  readonly isCaseOpen: boolean;
  /** Joints of the string that no cover lies over, ascending. */
  readonly bareJoints: readonly number[];
  /** Plugged in, the sense harness ties the parts of the string; out, it leaves its taps on bare pins. */
  readonly mayHarnessTie: boolean;
  readonly areHarnessPinsBare: boolean;
  /** Links that part the string in every account, ascending. */
  readonly openLinks: readonly number[];
  readonly chargerVolt: number | null;
  /** Places without a module in every account, ascending: nothing joins their posts. */
  readonly emptyPlaces: readonly number[];
  /** Places where perhaps there is none, ascending; the empty ones too. */
  readonly vacantPlaces: readonly number[];
}

export function hazardsOf(pack: PackState): Hazards {
  return {
    mayBeInCar: !pack.isOnBench,
    mayBeOnBench: pack.isOnBench,
    isCarSideBare: pack.connectors === 'open',
    mayCablesBeOn: pack.connectors !== 'insulated',
    areOutletPostsBare: pack.outletPosts === 'bare',
    areOutletPostsUncapped: pack.outletPosts !== 'capped',
    mayContactorsBeShut: pack.contactors !== 'takenOut',
    isCaseOpen: pack.isCaseOpen,
    bareJoints: pack.bareJoints,
    mayHarnessTie: !pack.isHarnessUnplugged,
    areHarnessPinsBare: pack.isHarnessUnplugged,
    openLinks: listOpenLinks(pack.joins, pack.places.length),
    chargerVolt: pack.chargerVolt,
    emptyPlaces: placesThat(pack, (holds) => holds === 'nothing'),
    vacantPlaces: placesThat(pack, (holds) => holds !== 'module'),
  };
}

/** At least as hazardous as either, in every respect. */
export function joinHazards(a: Hazards, b: Hazards): Hazards {
  const charger = Math.max(a.chargerVolt ?? 0, b.chargerVolt ?? 0);
  return {
    mayBeInCar: a.mayBeInCar || b.mayBeInCar,
    mayBeOnBench: a.mayBeOnBench || b.mayBeOnBench,
    isCarSideBare: a.isCarSideBare || b.isCarSideBare,
    mayCablesBeOn: a.mayCablesBeOn || b.mayCablesBeOn,
    areOutletPostsBare: a.areOutletPostsBare || b.areOutletPostsBare,
    areOutletPostsUncapped: a.areOutletPostsUncapped || b.areOutletPostsUncapped,
    mayContactorsBeShut: a.mayContactorsBeShut || b.mayContactorsBeShut,
    isCaseOpen: a.isCaseOpen || b.isCaseOpen,
    bareJoints: inEither(a.bareJoints, b.bareJoints),
    mayHarnessTie: a.mayHarnessTie || b.mayHarnessTie,
    areHarnessPinsBare: a.areHarnessPinsBare || b.areHarnessPinsBare,
    openLinks: inBoth(a.openLinks, b.openLinks),
    chargerVolt: charger > 0 ? charger : null,
    emptyPlaces: inBoth(a.emptyPlaces, b.emptyPlaces),
    vacantPlaces: inEither(a.vacantPlaces, b.vacantPlaces),
  };
}

function placesThat({ places }: PackState, is: (holds: PackState['places'][number]['holds']) => boolean): number[] {
  return places.flatMap((p, i) => (is(p.holds) ? [i + 1] : []));
}

function inBoth(a: readonly number[], b: readonly number[]): readonly number[] {
  const other = new Set(b);
  return a.filter((k) => other.has(k));
}

function inEither(a: readonly number[], b: readonly number[]): readonly number[] {
  return a.length === 0 ? b : [...new Set([...a, ...b])].sort((x, y) => x - y);
}

export function isSameHazard(a: Hazards, b: Hazards): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}
