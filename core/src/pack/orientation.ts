/** How a pack lies, written down before the first module moves, and what the profile says of it. */
import * as z from 'zod';
import { plusSide, type Profile } from './profile.ts';

export const CORNERS = ['firstNear', 'firstFar', 'lastNear', 'lastFar'] as const;
/** An end and a side, in the words of the profile's layout. */
export type Corner = (typeof CORNERS)[number];

export const orientationSchema = z.strictObject({
  /** Corner of the most positive post. */
  positiveCorner: z.enum(CORNERS),
  /** The end that module 1 sits at. */
  firstAt: z.enum(['first', 'last']),
  /** Side of the threaded posts; `alternating` where they alternate down each side. */
  threaded: z.enum(['near', 'far', 'alternating']),
  vents: z.enum(['near', 'far', 'alternating', 'top', 'none']),
  /** Where each temperature sensor was found; null: not found. */
  sensors: z.array(z.strictObject({ sensorId: z.string().min(1).max(60), place: z.int().min(1).max(200).nullable() })).max(100),
  note: z.string().trim().max(2000),
});
export type Orientation = z.infer<typeof orientationSchema>;

/** The corner that the profile says is most positive: the plus post of the last module. */
export function expectedCorner(profile: Profile): Corner {
  return plusSide(profile, profile.moduleCount) === 'near' ? 'lastNear' : 'lastFar';
}

/** A corner in the words of the profile. */
export function cornerName({ layout }: Pick<Profile, 'layout'>, corner: Corner): string {
  const end = corner.startsWith('first') ? layout.firstEnd : layout.lastEnd;
  return `${end}, ${corner.endsWith('Near') ? layout.nearSide : layout.farSide}`;
}

/** Where the record differs from the profile, as sentences; a former hand may have turned or moved something. */
export function compareOrientation(profile: Profile, record: Orientation): string[] {
  const found: string[] = [];
  const expected = expectedCorner(profile);
  // seen from the other end the same pack has its corners exchanged
  if (record.firstAt === 'last')
    found.push(`Module 1 is recorded at the ${profile.layout.lastEnd}; the profile has it at the ${profile.layout.firstEnd}.`);
  if (record.positiveCorner !== expected)
    found.push(
      `The most positive corner is recorded at ${cornerName(profile, record.positiveCorner)}; by the profile it is ${cornerName(profile, expected)}. Read the end posts with a meter before anything moves.`,
    );
  for (const { sensorId, place } of record.sensors) {
    const sensor = profile.sensors.find((s) => s.id === sensorId);
    if (!sensor || place === sensor.place) continue;
    found.push(
      place === null
        ? `${sensor.name} was not found; it belongs at ${sensor.place}.`
        : `${sensor.name} was found at ${place}; it belongs at ${sensor.place}.`,
    );
  }
  return found;
}
