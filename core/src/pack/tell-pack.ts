/** By what a pack is told from another one: chemistry, cells, plug and cooling, in the words of the trade. */
import type { Profile } from './profile.ts';

export const COOLINGS = ['air', 'liquid'] as const;
export type Cooling = (typeof COOLINGS)[number];

export const CHEMISTRY_NAMES: Record<Profile['moduleType']['chemistry'], string> = { nimh: 'NiMH', liion: 'lithium-ion' };
export const COOLING_NAMES: Record<Cooling, string> = { air: 'air', liquid: 'liquid' };
export const PLUG_KIND_NAMES: Record<Profile['plug']['kind'], string> = {
  lever: 'lever',
  swing: 'swing handle',
  round: 'round, turns',
  switch: 'switch',
  bolted: 'behind bolts',
};

export function coolingOf({ coolant }: Pick<Profile, 'coolant'>): Cooling {
  return coolant === null ? 'air' : 'liquid';
}

/** Such as `28 × 6 cells NiMH, 201.6 V nominal`. */
export function sayString({
  moduleCount,
  moduleType: { cells, chemistry, nominalVolt },
}: Pick<Profile, 'moduleCount' | 'moduleType'>): string {
  return `${moduleCount} × ${cells} cells ${CHEMISTRY_NAMES[chemistry]}, ${(moduleCount * nominalVolt).toFixed(1)} V nominal`;
}

/** Such as `signal plug, swing handle: opens nothing of the string`. */
export function sayPlug({ plug }: Pick<Profile, 'plug'>): string {
  const kind = PLUG_KIND_NAMES[plug.kind];
  const name = plug.name.toLowerCase().includes((kind.split(/[ ,]/)[0] ?? kind).toLowerCase()) ? plug.name : `${plug.name}, ${kind}`;
  return `${name}: ${plug.opensLink === null ? 'opens nothing of the string' : `opens link ${plug.opensLink}`}`;
}

/** What a pack is looked for by; `null` takes every one. */
export interface PackWanted {
  /** Words that must all stand in what is said of the pack; a number of modules is one too. */
  readonly text: string;
  readonly chemistry: Profile['moduleType']['chemistry'] | null;
  readonly plug: Profile['plug']['kind'] | null;
  readonly cooling: Cooling | null;
}

/** The packs that are like that, in their order. */
export function filterProfiles(profiles: readonly Profile[], { text, chemistry, plug, cooling }: PackWanted): Profile[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  return profiles.filter((profile) => {
    const { name, archetype, moduleType, moduleCount, zones } = profile;
    const cells = moduleCount * moduleType.cells;
    const told = [name, `type ${archetype}`, sayString(profile), `${cells} cells`, sayPlug(profile), profile.plug.where]
      .concat(zones.map((z) => z.name))
      .join(' ')
      .toLowerCase();
    return (
      words.every((w) => told.includes(w)) &&
      (chemistry === null || moduleType.chemistry === chemistry) &&
      (plug === null || profile.plug.kind === plug) &&
      (cooling === null || coolingOf(profile) === cooling)
    );
  });
}
