/** The slice of putting together: tools as they were set, every fastener that was tightened, what was looked at and measured. */
import * as z from 'zod';
import { LOOKS, SIDES_UP } from '../../../pack/way-up.ts';
import { markSchema } from '../chapter.ts';
import { barsSchema, halfSchema, leakSchema, pasteSchema, sensorsSchema, settingSchema, surveySchema, torquedSchema } from './acts.ts';

const mark = markSchema.shape;
/** What can be taken back is known by its command. */
const kept = { ...mark, commandId: z.string() };

const setting = z.strictObject({ ...mark, ...settingSchema.shape, settingId: z.string() });
/** A tool set to a figure for a group of fasteners. */
export type Setting = Readonly<z.output<typeof setting>>;

const torqued = z.strictObject({ ...kept, ...torquedSchema.shape });
export type Torqued = Readonly<z.output<typeof torqued>>;

const bars = z.strictObject({ ...kept, ...barsSchema.shape });
export type BarsReadied = Readonly<z.output<typeof bars>>;
const sensors = z.strictObject({ ...kept, ...sensorsSchema.shape });
const survey = z.strictObject({ ...kept, ...surveySchema.shape });
const half = z.strictObject({ ...kept, ...halfSchema.shape });
const leak = z.strictObject({ ...kept, ...leakSchema.shape });
const paste = z.strictObject({ ...kept, ...pasteSchema.shape });

export const rebuildStateSchema = z.strictObject({
  settings: z.array(setting),
  /** In the order kept; a later one of a seat and pass counts. */
  torqued: z.array(torqued),
  /** The last word on each. */
  checks: z.array(z.strictObject({ ...mark, check: z.enum(LOOKS), isGood: z.boolean(), note: z.string() })),
  /** Which side of the pack looks up; null where nobody said. */
  up: z.strictObject({ ...mark, up: z.enum(SIDES_UP) }).nullable(),
  dropped: z.array(z.strictObject({ ...kept, moduleId: z.string(), note: z.string() })),
  /** Each in the order kept; the last word counts. */
  bars: z.array(bars),
  sensors: z.array(sensors),
  surveys: z.array(survey),
  halves: z.array(half),
  leaks: z.array(leak),
  pastes: z.array(paste),
});
export type RebuildState = z.output<typeof rebuildStateSchema>;
