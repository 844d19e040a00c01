/**
 * A pack profile: everything that is particular to one kind of pack, as data. Values belong here or to a shop's policy, never to
 * code that would make them universal.
 */
import * as z from 'zod';
import { CHEMISTRIES } from '../cell/battery-model.ts';
import { answer, refuse, type Result } from '../result.ts';
import { factSchema } from './fact.ts';
import { STAGES } from './stage.ts';

const name = z.string().trim().min(1).max(120);
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);
const amount = z.number().positive().max(1e6);

export const moduleTypeSchema = z.strictObject({
  id: slug,
  name,
  chemistry: z.enum(CHEMISTRIES),
  cells: z.int().min(1).max(400),
  form: z.enum(['prismatic', 'cylindrical', 'pouch']),
  posts: name,
  nominalVolt: amount,
  /** Highest open-circuit voltage a full module can stand at; counted for exposure where nothing was measured. */
  maximumModuleVolt: amount,
  nominalCapacityAh: amount,
  /** Of a healthy module; counted for the short-circuit current where nothing was measured. */
  typicalMilliohm: amount,
  cutoffVolt: amount,
  massKilogram: amount,
});
export type ModuleType = z.infer<typeof moduleTypeSchema>;

export const torqueSchema = z.strictObject({
  fastener: name,
  newtonMetre: amount,
  tolerancePercent: z.number().min(0).max(50),
  source: z.enum(['maker', 'supplier', 'shop', 'invented']),
});

export const profileSchema = z.strictObject({
  schemaVersion: z.literal(1),
  id: slug,
  version: z.int().min(1).max(100_000),
  name,
  archetype: z.enum(['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H']),
  provenance: z.string().trim().min(1).max(400),
  moduleType: moduleTypeSchema,
  /** Modules in series; number 1 is the most negative and sits at the first end. */
  moduleCount: z.int().min(2).max(200),
  layout: z.strictObject({
    firstEnd: name,
    lastEnd: name,
    /** Side on which module 1 has its plus post, looking from the first end. */
    firstPlusSide: z.enum(['near', 'far']),
    nearSide: name,
    farSide: name,
  }),
  /** Modules watched by each voltage channel, in string order. */
  blocks: z.array(z.int().min(1).max(200)).min(1).max(200),
  plug: z.strictObject({
    name,
    /** The link that the plug opens; null where it only signals the interlock. */
    opensLink: z.int().min(1).max(199).nullable(),
    note: z.string().max(400),
  }),
  /** Bus bars that share a frame; with `opensAsOne` the links open only together, when the frame comes off. */
  frames: z.array(
    z.strictObject({
      id: slug,
      name,
      side: z.enum(['near', 'far']),
      links: z.array(z.int().min(1).max(199)).min(1),
      opensAsOne: z.boolean(),
    }),
  ),
  /** How hot each position runs, 1 for the coolest. */
  heatWeights: z.array(z.number().positive().max(100)),
  sensors: z.array(z.strictObject({ id: slug, name, place: z.int().min(1).max(200) })),
  massKilogram: amount,
  waits: z.strictObject({ capacitorMinute: amount, restHour: amount }),
  torques: z.array(torqueSchema),
  stages: z.array(z.enum(STAGES)).min(1),
  /** What is usually stated, in order, going down and coming back; the planned part of the exposure line is drawn from it. */
  procedure: z.array(z.strictObject({ stage: z.enum(STAGES), fact: factSchema })),
});
export type Profile = z.infer<typeof profileSchema>;

/** Checks that the parts of a profile fit each other. Refusal `mismatch` names the first part that does not. */
export function checkProfile(profile: Profile): Result<Profile> {
  const { moduleCount, blocks, frames, plug, heatWeights, sensors } = profile;
  const held = blocks.reduce((a, b) => a + b, 0);
  if (held !== moduleCount) return refuse('mismatch', `The blocks hold ${held} modules, the string has ${moduleCount}.`, ['blocks']);
  if (heatWeights.length !== moduleCount)
    return refuse('mismatch', `${heatWeights.length} heat weights do not fit ${moduleCount} places.`, ['heatWeights']);
  const owner = new Map<number, string>();
  if (plug.opensLink !== null) {
    if (plug.opensLink >= moduleCount)
      return refuse('mismatch', `The plug opens link ${plug.opensLink}, which is not there.`, ['plug', 'opensLink']);
    owner.set(plug.opensLink, plug.name);
  }
  for (const [i, frame] of frames.entries())
    for (const [j, link] of frame.links.entries()) {
      if (link >= moduleCount)
        return refuse('mismatch', `${frame.name} holds link ${link}, which is not there.`, ['frames', i, 'links', j]);
      const other = owner.get(link);
      if (other !== undefined)
        return refuse('mismatch', `Link ${link} belongs to ${other} and to ${frame.name}.`, ['frames', i, 'links', j]);
      owner.set(link, frame.name);
    }
  const stray = sensors.findIndex((s) => s.place > moduleCount);
  if (stray >= 0)
    return refuse('mismatch', `Sensor "${sensors[stray]?.name}" sits at a place that is not there.`, ['sensors', stray, 'place']);
  const type = profile.moduleType;
  if (type.maximumModuleVolt < type.nominalVolt)
    return refuse('mismatch', 'A full module cannot stand below its nominal voltage.', ['moduleType', 'maximumModuleVolt']);
  return answer(profile);
}

/** First and last place of each block, 1-based. */
export function blockPlaces(blocks: readonly number[]): { readonly from: number; readonly to: number }[] {
  let next = 1;
  return blocks.map((size) => ({ from: next, to: (next += size) - 1 }));
}

/** Which side the plus post of a module is on: polarity alternates down each side. */
export function plusSide(profile: Pick<Profile, 'layout'>, place: number): 'near' | 'far' {
  const first = profile.layout.firstPlusSide;
  if (place % 2 === 1) return first;
  return first === 'near' ? 'far' : 'near';
}
