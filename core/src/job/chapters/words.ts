/** The pieces that bodies of acts are made of. */
import * as z from 'zod';
import { STAGES } from '../../pack/stage.ts';

export const idSchema = z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/, 'letters, digits, point, dash and underscore, up to 64');
export const text = z.string().trim().max(2000);
export const shortText = z.string().trim().min(1).max(120);
/** Why something is done that is not the usual: long enough to say something. */
export const reason = z.string().trim().min(8).max(400);
export const place = z.int().min(1).max(200);
export const count = z.int().min(1).max(999);
export const stage = z.enum(STAGES);
/** Number of an event, 0 for before the first, within the database's integers. */
export const numberSchema = z.int().min(0).max(2_147_483_647);
/** Version of a profile, a policy or a document. */
export const version = numberSchema.min(1);

/** A map on the wire: its entries. Keys are free words, so that no object could hold them without harm (`constructor`). */
export function entriesOf<V extends z.ZodType>(value: V) {
  const held = z.custom<Map<string, z.output<V>>>((given) => given instanceof Map);
  return z.codec(z.array(z.tuple([z.string(), value])), held, {
    decode: (entries) => new Map(entries as unknown as [string, z.output<V>][]),
    encode: (map) => [...map] as never,
  });
}
