/** The slice of handing over: what was said, in the order kept; the last word on each counts. */
import * as z from 'zod';
import { keptLists } from '../table.ts';
import { HAND_OVER } from './acts.ts';

export const handOverStateSchema = z.strictObject(keptLists(HAND_OVER));
export type HandOverState = z.output<typeof handOverStateSchema>;
