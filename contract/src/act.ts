/** Acts on their way to the server and events on their way back. */
import { actSchema, idSchema, shopActSchema, type JobEvent, type ShopAct } from '@estuarine/core';
import * as z from 'zod';

const header = {
  /** Made by the device, UUID v7. The same id twice is one act. */
  commandId: idSchema,
  /** Device time corrected by the offset that the device measured. */
  deviceAt: z.iso.datetime(),
  /** The person; must be the one of the session. */
  by: idSchema,
};

export const sentActSchema = z.strictObject({ ...header, act: actSchema });
export type SentAct = z.infer<typeof sentActSchema>;

export const sentShopActSchema = z.strictObject({ ...header, act: shopActSchema });
export type SentShopAct = z.infer<typeof sentShopActSchema>;

/** The server's answer to an act that was kept, or had been kept before. */
export interface KeptAct {
  readonly stream: string;
  /** Numbers of the first and the last event it became. */
  readonly first: number;
  readonly last: number;
  readonly at: string;
}

/** Name of the stream that is the shop's own; every other is a job's id. */
export const SHOP_STREAM = 'shop';

/** What the stream sends for each event kept. Shop events come without their body, which can be large: refetch what they touch. */
export type StreamedEvent =
  | { readonly stream: string; readonly event: JobEvent }
  | { readonly stream: typeof SHOP_STREAM; readonly number: number; readonly type: ShopAct['type'] };
