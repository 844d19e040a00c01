/** What is said of a pack's plug, lever or switch: a plug comes out and lies somewhere, a switch is turned and held by a lock or a tag. */
import type { Profile } from './profile.ts';

export interface PlugWords {
  /** The step: what is to be so. */
  readonly title: string;
  /** Said by whoever did it. */
  readonly isOut: string;
  /** Said by whoever put it back. */
  readonly isIn: string;
  /** Where it may be kept, or what holds it; the first is the usual one. */
  readonly keptIn: readonly string[];
  /** Short words of its three states. */
  readonly states: { readonly latched: string; readonly loose: string; readonly out: string };
  readonly caution: string;
}

const GLOVES = 'Gloves on.';

/** The words for the plug of a profile. */
export function plugWords({ plug }: Pick<Profile, 'plug'>): PlugWords {
  const name = plug.name.charAt(0).toUpperCase() + plug.name.slice(1);
  // common practice, no source: whoever works under a switch holds it off by a lock or a tag
  if (plug.kind === 'switch')
    return {
      title: `${name} off, held by a lock or a tag`,
      isOut: `The ${plug.name} is off`,
      isIn: `The ${plug.name} is on again`,
      keptIn: ['locked', 'tagged'],
      states: { latched: 'On', loose: 'On, not latched', out: 'Off' },
      caution: GLOVES,
    };
  return {
    title: `${name} out, ${plug.parking ? `parked in the ${plug.parking}` : 'into custody'}`,
    isOut: `The ${plug.name} is out`,
    isIn: `The ${plug.name} is in again and latched`,
    keptIn: plug.parking ? [plug.parking, 'lock box', 'pocket'] : ['lock box', 'pocket'],
    states: { latched: 'In and latched', loose: 'In, not latched', out: 'Out' },
    // a plug that only signals has no fuse of the string under it
    caution:
      plug.opensLink === null
        ? `${GLOVES} The string stays whole: only the contactors part it from the cables.`
        : `${GLOVES} A main fuse under it is tested only once it is out, never with the plug in.`,
  };
}

/** Where a key may be kept, away from the car; the first is the usual one. */
export const KEY_PLACES = ['lock box', 'pocket'] as const;
