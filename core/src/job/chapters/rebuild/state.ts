/** The slice of putting together: tools as they were set, every fastener that was tightened, what was looked at. */
import * as z from 'zod';
import { markSchema } from '../chapter.ts';
import { REBUILD_CHECKS, settingSchema, torquedSchema } from './acts.ts';

const mark = markSchema.shape;

const setting = z.strictObject({ ...mark, ...settingSchema.shape, settingId: z.string() });
/** A tool set to a figure for a group of fasteners. */
export type Setting = Readonly<z.output<typeof setting>>;

const torqued = z.strictObject({ ...mark, ...torquedSchema.shape, commandId: z.string() });
export type Torqued = Readonly<z.output<typeof torqued>>;

export const rebuildStateSchema = z.strictObject({
  settings: z.array(setting),
  /** In the order kept; a later one of a seat and pass counts. */
  torqued: z.array(torqued),
  /** The last word on each. */
  checks: z.array(z.strictObject({ ...mark, check: z.enum(REBUILD_CHECKS), isGood: z.boolean(), note: z.string() })),
});
export type RebuildState = z.output<typeof rebuildStateSchema>;
