/** Acts of putting the pack together that no fact and no count tells: torque, and what is looked at on the way. */
import * as z from 'zod';
import { fact, permit, type Trait } from '../chapter.ts';
import { LOOKS, PASTE_PATTERNS, SIDES_UP } from '../../../pack/way-up.ts';
import { idSchema, text } from '../words.ts';

/** How a tool tells that it is there: it clicks and gives no figure, or it shows one. */
export const TOOL_READS = ['click', 'figure'] as const;

const partId = idSchema;
const newtonMetre = z.number().positive().max(10_000);

export const settingSchema = z.strictObject({
  partId,
  toolId: idSchema,
  reads: z.enum(TOOL_READS),
  setNewtonMetre: newtonMetre,
  /** What is written on the tool; filled in where it is kept. */
  toolLabel: z.string().max(120).default(''),
});

export const torquedSchema = z.strictObject({
  /** The act that set the tool. */
  settingId: idSchema,
  partId,
  /** Which of the pieces, from 1, in the order of the drawing. */
  seat: z.int().min(1).max(500),
  pass: z.union([z.literal(1), z.literal(2)]),
  /** What the tool showed; null where it clicked. */
  newtonMetre: newtonMetre.nullable(),
});

const place = z.int().min(1).max(200);

/** What was done to the bars of a frame, or of the whole pack, before they go on. */
export const barsSchema = z.strictObject({
  /** Null: every bar of the pack. */
  frame: idSchema.nullable(),
  how: z.enum(['new', 'cleaned']),
  /** Changed in their frame beforehand, or one by one. */
  isInFrame: z.boolean(),
  /** After the acid and the rinse; null where they are new. */
  isDry: z.boolean().nullable(),
  /** What the acid left of it, looked at again; null where they are new. */
  plating: z.enum(['whole', 'thin', 'gone']).nullable(),
  /** A supplier may ask for new nuts on its bars and the original hardware on the case. */
  haveNewNuts: z.boolean(),
});

export const SENSOR_SCHOOLS = ['asMade', 'gathered'] as const;
/** Temperature sensors where the maker had them, or gathered towards the hot middle so that the fan starts earlier. */
export const sensorsSchema = z.strictObject({
  school: z.enum(SENSOR_SCHOOLS),
  sites: z.array(z.strictObject({ sensorId: idSchema, place })).max(200),
});

/** What drops over each joint at a known current. */
export const surveySchema = z.strictObject({
  ampere: z.number().positive().max(1000),
  resolutionMillivolt: z.number().positive().max(100),
  joints: z
    .array(z.strictObject({ link: z.int().min(1).max(199), millivolt: z.number().min(0).max(20_000) }))
    .min(1)
    .max(199)
    .refine((joints) => new Set(joints.map((j) => j.link)).size === joints.length, 'Each joint once.'),
});

/** A run of modules, measured between its own ends. */
export const halfSchema = z
  .strictObject({ from: place, to: place, volt: z.number().min(-2000).max(2000) })
  .refine((h) => h.to >= h.from, { message: 'It ends before it begins.', path: ['to'] });

export const leakSchema = z.strictObject({
  readings: z
    .array(z.strictObject({ minute: z.number().min(0).max(1440), kilopascal: z.number().min(0).max(2000) }))
    .min(1)
    .max(200),
});

/** Paste as it was weighed onto the plate under some places. */
export const pasteSchema = z
  .strictObject({ from: place, to: place, gram: z.number().positive().max(100_000), pattern: z.enum(PASTE_PATTERNS) })
  .refine((h) => h.to >= h.from, { message: 'It ends before it begins.', path: ['to'] });

export const REBUILD_ACTS = [
  z.strictObject({ type: z.literal('torque.set'), body: settingSchema }),
  z.strictObject({ type: z.literal('fastener.torqued'), body: torquedSchema }),
  z.strictObject({
    type: z.literal('rebuild.checked'),
    body: z.strictObject({ check: z.enum(LOOKS), isGood: z.boolean(), note: text.default('') }),
  }),
  z.strictObject({ type: z.literal('pack.turned'), body: z.strictObject({ up: z.enum(SIDES_UP) }) }),
  z.strictObject({ type: z.literal('module.dropped'), body: z.strictObject({ moduleId: idSchema, note: text.default('') }) }),
  z.strictObject({ type: z.literal('bars.readied'), body: barsSchema }),
  z.strictObject({ type: z.literal('sensors.sited'), body: sensorsSchema }),
  z.strictObject({ type: z.literal('joints.surveyed'), body: surveySchema }),
  z.strictObject({ type: z.literal('half.measured'), body: halfSchema }),
  z.strictObject({ type: z.literal('leak.tested'), body: leakSchema }),
  z.strictObject({ type: z.literal('paste.laid'), body: pasteSchema }),
] as const;
export type RebuildAct = z.infer<(typeof REBUILD_ACTS)[number]>;

export const REBUILD_TRAITS = {
  // nobody is hurt by a tool: a tablet without the server goes on with it, and what it tightened counts once the tool is granted
  'torque.set': permit('sets a torque tool', 'apprentice', { isShownWaiting: true, stage: 'rebuild', serverFills: ['toolLabel'] }),
  'fastener.torqued': fact('tightens a fastener', { isTakenBack: true, stage: 'rebuild' }),
  'rebuild.checked': fact('looks at the stack', { stage: 'rebuild' }),
  'pack.turned': fact('turns the pack', { stage: 'rebuild' }),
  'module.dropped': fact('says that a module was dropped', { isTakenBack: true, stage: 'rebuild', writes: ['quarantine'] }),
  'bars.readied': fact('makes bars ready', { isTakenBack: true, stage: 'rebuild' }),
  'sensors.sited': fact('puts sensors to their places', { isTakenBack: true, stage: 'rebuild' }),
  'joints.surveyed': fact('measures the joints', { isTakenBack: true, stage: 'rebuild' }),
  'half.measured': fact('measures a half', { isTakenBack: true, stage: 'rebuild' }),
  'leak.tested': fact('tests the loop for a leak', { isTakenBack: true, stage: 'rebuild' }),
  'paste.laid': fact('lays paste', { isTakenBack: true, stage: 'rebuild' }),
} satisfies Record<RebuildAct['type'], Trait>;
