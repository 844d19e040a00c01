/** The slice of putting together: tools as they were set, every fastener that was tightened, what was looked at and measured. */
import * as z from 'zod';
import { LOOKS, SIDES_UP } from '../../../pack/way-up.ts';
import { markSchema } from '../chapter.ts';
import { keptLists } from '../table.ts';
import { REBUILD, settingSchema } from './acts.ts';

const mark = markSchema.shape;

const setting = z.strictObject({ ...mark, ...settingSchema.shape, settingId: z.string() });
/** A tool set to a figure for a group of fasteners. */
export type Setting = Readonly<z.output<typeof setting>>;

export const rebuildStateSchema = z.strictObject({
  settings: z.array(setting),
  /** The last word on each. */
  checks: z.array(z.strictObject({ ...mark, check: z.enum(LOOKS), isGood: z.boolean(), note: z.string() })),
  /** Which side of the pack looks up; null where nobody said. */
  up: z.strictObject({ ...mark, up: z.enum(SIDES_UP) }).nullable(),
  /** Of a seat and pass of a fastener, and of all else, the last word counts. */
  ...keptLists(REBUILD),
});
export type RebuildState = z.output<typeof rebuildStateSchema>;

export type Torqued = Readonly<RebuildState['torqued'][number]>;
export type BarsReadied = Readonly<RebuildState['bars'][number]>;
