/** Acts of putting the pack together that no fact and no count tells: torque, and what is looked at on the way. */
import * as z from 'zod';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';
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

/** Every act of this chapter. */
export const REBUILD = {
  // nobody is hurt by a tool: a tablet without the server goes on with it, and what it tightened counts once the tool is granted
  'torque.set': {
    body: settingSchema,
    trait: permit('sets a torque tool', 'apprentice', { isShownWaiting: true, stage: 'rebuild', serverFills: ['toolLabel'] }),
    effects: 'none',
    kept: null,
  },
  'fastener.torqued': {
    body: torquedSchema,
    trait: fact('tightens a fastener', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'none',
    kept: 'torqued',
  },
  'rebuild.checked': {
    body: z.strictObject({ check: z.enum(LOOKS), isGood: z.boolean(), note: text.default('') }),
    trait: fact('looks at the stack', { stage: 'rebuild' }),
    effects: 'none',
    kept: null,
  },
  'pack.turned': {
    body: z.strictObject({ up: z.enum(SIDES_UP) }),
    trait: fact('turns the pack', { stage: 'rebuild' }),
    effects: 'none',
    kept: null,
  },
  'module.dropped': {
    body: z.strictObject({ moduleId: idSchema, note: text.default('') }),
    trait: fact('says that a module was dropped', { isTakenBack: true, stage: 'rebuild', writes: ['quarantine'] }),
    effects: 'none',
    kept: 'dropped',
  },
  'bars.readied': {
    body: barsSchema,
    trait: fact('makes bars ready', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'none',
    kept: 'bars',
  },
  'sensors.sited': {
    body: sensorsSchema,
    trait: fact('puts sensors to their places', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'none',
    kept: 'sensors',
  },
  'joints.surveyed': {
    body: surveySchema,
    trait: fact('measures the joints', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'none',
    kept: 'surveys',
  },
  'half.measured': {
    body: halfSchema,
    trait: fact('measures a half', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'some',
    kept: 'halves',
  },
  'leak.tested': {
    body: leakSchema,
    trait: fact('tests the loop for a leak', { isTakenBack: true, stage: 'rebuild' }),
    effects: 'none',
    kept: 'leaks',
  },
  'paste.laid': { body: pasteSchema, trait: fact('lays paste', { isTakenBack: true, stage: 'rebuild' }), effects: 'none', kept: 'pastes' },
} as const satisfies Table;
export type RebuildAct = ActOf<typeof REBUILD>;
