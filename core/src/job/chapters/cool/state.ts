/** The slice of cooling: what was found, cleaned and tested, in the order kept. */
import * as z from 'zod';
import { keptLists } from '../table.ts';
import { COOL } from './acts.ts';

export const coolStateSchema = z.strictObject(keptLists(COOL));
export type CoolState = z.output<typeof coolStateSchema>;
