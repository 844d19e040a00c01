/**
 * A pack profile: everything that is particular to one kind of pack, as data. Values belong here or to a shop's policy, never to
 * code that would make them universal.
 */
import * as z from 'zod';
import { CHEMISTRIES } from '../cell/battery-model.ts';
import { answer, refuse, type Refusal, type Result } from '../result.ts';
import { checkScanMap, scanMapSchema } from '../scan/scan-map.ts';
import { factSchema, type Fact } from './fact.ts';
import { pointSchema } from './point.ts';
import { layerSchema, liftSchema, partSchema, PLAN, transferSchema, zoneSchema } from './parts.ts';
import { STAGES } from './stage.ts';
import { checkWake, wakeSchema } from './wake.ts';
import { checkWayUp, coolantSchema, wayUpStepSchema } from './way-up.ts';

const name = z.string().trim().min(1).max(120);
const slug = z
  .string()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/)
  .max(60);
const amount = z.number().positive().max(1e6);

/** Version of the form of a profile; older ones are brought up by `readProfile`. */
export const PROFILE_SCHEMA_VERSION = 6;

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

/** What the air, or the coolant, passes through. */
export const FLOW_KINDS = ['intake', 'filter', 'duct', 'fan', 'cells', 'coldPlate', 'converter', 'inverter', 'pump', 'outlet'] as const;
export type FlowKind = (typeof FLOW_KINDS)[number];

export const PLUG_KINDS = ['lever', 'swing', 'round', 'switch', 'bolted'] as const;
export type PlugKind = (typeof PLUG_KINDS)[number];

/** A step of isolation that only this pack asks for. */
export const extraStepSchema = z.strictObject({
  id: slug,
  /** The usual step that it comes before. */
  before: z.enum(['key', 'gear', 'twelveVolt', 'plug', 'wait', 'proof']),
  title: name,
  why: z.string().trim().max(400),
  caution: z.string().trim().max(400).nullable(),
});

export const profileSchema = z.strictObject({
  schemaVersion: z.literal(PROFILE_SCHEMA_VERSION),
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
  posts: z.strictObject({ thread: name, nutFastener: slug.nullable(), note: z.string().trim().max(400) }),
  /** Stretches of the string that lie apart, such as bays; empty where it lies in one row. */
  bays: z.array(z.strictObject({ name, from: z.int().min(1).max(200), to: z.int().min(1).max(200) })),
  plug: z.strictObject({
    name,
    /** How it comes out. */
    kind: z.enum(PLUG_KINDS),
    /** Where it is found. */
    where: name,
    /** Where it is parked once out, where the pack has such a place; null: into custody. */
    parking: name.nullable().meta({ title: 'Parked in' }),
    /** What its handle opens besides; null: nothing. */
    isKeyTo: name.nullable().meta({ title: 'Its handle is the key to' }),
    /** The link that the plug opens; null where it only signals the interlock. */
    opensLink: z.int().min(1).max(199).nullable().meta({ title: 'Opens the link of this number' }),
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
  /** Links that are no plain bar: eyelets between bays, cables. They open one by one. */
  bars: z.array(z.strictObject({ link: z.int().min(1).max(199), kind: z.enum(['bar', 'eyelet', 'cable']), name })),
  sense: z.strictObject({ by: z.enum(['block', 'cell']), connector: name }),
  /** How hot each position runs, 1 for the coolest. */
  heatWeights: z.array(z.number().positive().max(100)),
  sensors: z.array(z.strictObject({ id: slug, name, place: z.int().min(1).max(200) })),
  massKilogram: amount,
  waits: z.strictObject({ capacitorMinute: amount, restHour: amount }),
  /** Where the vehicle is cleared on the way to the pack, in order. */
  zones: z.array(zoneSchema).max(40),
  /** How the pack opens, outermost first. */
  layers: z.array(layerSchema).max(40),
  /** What comes off: of the vehicle by zone, of the pack by layer. */
  parts: z.array(partSchema).max(200),
  /** How it goes together again, in order. */
  rebuild: z.array(wayUpStepSchema).min(1).max(60),
  /** Null where air cools it. */
  coolant: coolantSchema.nullable(),
  /** What an exchange pack comes with and what moves across. */
  transfer: z.array(transferSchema).max(60),
  lift: liftSchema,
  /** Minutes quoted for a stage; none: not quoted. */
  quotes: z.array(z.strictObject({ stage: z.enum(STAGES), minute: z.int().min(1).max(10_000) })).max(STAGES.length),
  /** Parts the air or the coolant passes, in the order of the flow. */
  airPath: z.array(
    z.strictObject({
      ...{ kind: z.enum(FLOW_KINDS), name },
      /** What is to be known before it comes out. */
      note: z.string().trim().max(200),
      /** Of a fan or a pump: where plus and minus go for a test on 12 V. */
      pins: z.string().trim().max(120),
    }),
  ),
  cooling: z.strictObject({
    /** What the fan moves through the clean path. */
    cleanCubicMetrePerHour: z.number().positive().max(5000),
    /** After how long the pack is opened for its cells; null where it never is for that alone. */
    stripMonths: z.number().positive().max(240).nullable(),
    /** Whether the fan comes out only with the pack proven dead. */
    fanNeedsDead: z.boolean(),
  }),
  /** How it comes back to life. */
  wake: wakeSchema,
  /** Where its units keep what a scan asks for; null where nobody mapped it. */
  scan: scanMapSchema.nullable(),
  isolation: z.strictObject({
    /** Where dead is proven. */
    point: pointSchema,
    extraSteps: z.array(extraStepSchema),
  }),
  /** What hurts people or parts on this pack and on few others, with the stage it belongs to. */
  hazards: z.array(z.strictObject({ stage: z.enum(STAGES), text: z.string().trim().min(1).max(400) })),
  stages: z.array(z.enum(STAGES)).min(1),
  /** What is usually stated, in order, going down and coming back; the planned part of the exposure line is drawn from it. */
  procedure: z.array(z.strictObject({ stage: z.enum(STAGES), fact: factSchema })),
});
export type Profile = z.infer<typeof profileSchema>;

/** Checks that the parts of a profile fit each other. Refusal `mismatch` names the first part that does not. */
export function checkProfile(profile: Profile): Result<Profile> {
  const { moduleCount, blocks, frames, plug, heatWeights } = profile;
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
  for (const [i, { link, name: label }] of profile.bars.entries()) {
    if (link >= moduleCount) return refuse('mismatch', `${label} is link ${link}, which is not there.`, ['bars', i, 'link']);
    const other = owner.get(link);
    if (other !== undefined) return refuse('mismatch', `Link ${link} belongs to ${other} and to ${label}.`, ['bars', i, 'link']);
    owner.set(link, label);
  }
  return checkParts(profile) ?? answer(profile);
}

function checkParts(profile: Profile): Refusal | null {
  const { moduleCount, sensors, bays, moduleType: type, posts } = profile;
  const stray = sensors.findIndex((s) => s.place > moduleCount);
  if (stray >= 0)
    return refuse('mismatch', `Sensor "${sensors[stray]?.name}" sits at a place that is not there.`, ['sensors', stray, 'place']);
  let next = 1;
  for (const [i, bay] of bays.entries()) {
    if (bay.from !== next || bay.to < bay.from)
      return refuse('mismatch', `${bay.name} runs from ${bay.from} to ${bay.to}; place ${next} comes next.`, ['bays', i]);
    next = bay.to + 1;
  }
  if (bays.length > 0 && next !== moduleCount + 1)
    return refuse('mismatch', `The bays end at place ${next - 1}, the string at ${moduleCount}.`, ['bays']);
  for (const part of ['parts', 'sensors', 'frames', 'transfer'] as const) {
    const ids = profile[part].map((x) => x.id);
    const twice = ids.findIndex((id, i) => ids.indexOf(id) !== i);
    if (twice >= 0) return refuse('mismatch', `"${ids[twice]}" stands twice.`, [part, twice, 'id']);
  }
  if (posts.nutFastener !== null && !profile.parts.some((f) => f.id === posts.nutFastener))
    return refuse('mismatch', `There is no fastener "${posts.nutFastener}".`, ['posts', 'nutFastener']);
  if (type.maximumModuleVolt < type.nominalVolt)
    return refuse('mismatch', 'A full module cannot stand below its nominal voltage.', ['moduleType', 'maximumModuleVolt']);
  if (type.cutoffVolt >= type.nominalVolt)
    return refuse('mismatch', 'The cut-off lies below the nominal voltage.', ['moduleType', 'cutoffVolt']);
  const { scan, blocks } = profile;
  return (
    checkPlaces(profile) ??
    checkProcedure(profile) ??
    checkWayUp(profile.rebuild, profile) ??
    checkWake(profile.wake, profile) ??
    (scan && checkScanMap(scan, blocks.length))
  );
}

/** Zones lie on the plan, zones and layers have names of their own, and every part comes off one of them. */
function checkPlaces({ zones, layers, parts, frames, moduleCount }: Profile): Refusal | null {
  const places = [...zones, ...layers].map((p) => p.id);
  const twice = places.findIndex((id, i) => places.indexOf(id) !== i);
  if (twice >= 0) {
    const path = twice < zones.length ? ['zones', twice, 'id'] : ['layers', twice - zones.length, 'id'];
    return refuse('mismatch', `Two places are called "${places[twice]}".`, path);
  }
  const off = zones.findIndex(({ area }) => area.x + area.length > PLAN.length || area.y + area.width > PLAN.width);
  if (off >= 0)
    return refuse('mismatch', `${zones[off]?.name} lies beyond the plan of ${PLAN.length} by ${PLAN.width}.`, ['zones', off, 'area']);
  const stray = parts.findIndex((p) => !places.includes(p.place));
  if (stray >= 0)
    return refuse('mismatch', `${parts[stray]?.name} comes off "${parts[stray]?.place}", which is no zone and no layer.`, [
      'parts',
      stray,
      'place',
    ]);
  for (const [i, { name: label, effects }] of parts.entries())
    for (const [j, effect] of effects.entries()) {
      const path = ['parts', i, 'effects', j];
      if (effect.kind === 'partsFrame' && !frames.some((f) => f.id === effect.frame))
        return refuse('mismatch', `${label} parts the frame "${effect.frame}", which is not there.`, [...path, 'frame']);
      if (effect.kind === 'partsLinks' && effect.links.some((k) => k >= moduleCount))
        return refuse('mismatch', `${label} parts a link that is not there.`, [...path, 'links']);
      if (effect.kind === 'bares' && effect.over && (effect.what !== 'covers' || effect.over.some((k) => k > moduleCount)))
        return refuse('mismatch', `${label} lies over a joint that is not there, or is no terminal cover.`, [...path, 'over']);
    }
  return null;
}

/** Facts of the procedure and of the layers name what is there. */
function checkProcedure(profile: Profile): Refusal | null {
  for (const [i, { stage, fact }] of profile.procedure.entries()) {
    const path = ['procedure', i];
    if (!profile.stages.includes(stage))
      return refuse('mismatch', `The procedure names the stage ${stage}, which is left out.`, [...path, 'stage']);
    const refusal = checkFact(profile, fact, 'The procedure', path);
    if (refusal) return refusal;
  }
  for (const [i, { name: label, fact }] of profile.layers.entries()) {
    const refusal = fact && checkFact(profile, fact, label, ['layers', i]);
    if (refusal) return refusal;
  }
  return null;
}

function checkFact(profile: Profile, fact: Fact, namer: string, path: readonly (string | number)[]): Refusal | null {
  if (fact.kind === 'frame' && !profile.frames.some((f) => f.id === fact.frame))
    return refuse('mismatch', `${namer} names the frame "${fact.frame}", which is not there.`, [...path, 'fact', 'frame']);
  if (fact.kind === 'links' && fact.links.some((k) => k >= profile.moduleCount))
    return refuse('mismatch', `${namer} names a link that is not there.`, [...path, 'fact', 'links']);
  return null;
}

/** Highest voltage that the whole string can stand at: what gear must bear and insulation is measured against. */
export function stringVolt({ moduleCount, moduleType }: Pick<Profile, 'moduleCount' | 'moduleType'>): number {
  return moduleCount * moduleType.maximumModuleVolt;
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
