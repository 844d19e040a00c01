/**
 * When something was said or measured, by whose clock, and which of two things came first where that can be told. A device numbers its
 * acts and tells server time by its own monotonic clock; two devices are compared by time, and only beyond what both clocks may be off.
 */
import * as z from 'zod';

/** What a device says of itself beside an act. Acts of older releases, and of other clients, come without it. */
export const deviceSchema = z.strictObject({
  /** Of the browser's store, made once. */
  id: z.string().min(1).max(64),
  /** Whether its time rests on the server's; false after it was loaded anew without a server. */
  isClockSure: z.boolean(),
  /** Rises with every act of the device. */
  turn: z.int().min(0).max(1e9),
});
export type DeviceWord = Readonly<z.infer<typeof deviceSchema>>;

export const stampSchema = z.strictObject({
  number: z.int(),
  by: z.string(),
  /** By the device's corrected clock, never after it was kept; epoch milliseconds. */
  saidAt: z.number(),
  /** By the server's clock; epoch milliseconds. */
  keptAt: z.number(),
  device: deviceSchema.nullable(),
});
export type Stamp = Readonly<z.infer<typeof stampSchema>>;

/** What a device's clock may be off from the server's while it is sure of it: the way of the answer and an hour's drift. */
export const CLOCK_MILLISECOND = 2000;

/** No device waits longer for its server, and no clock that was ever set stands further ahead. */
const LONGEST_WAIT_MILLISECOND = 60 * 24 * 3_600_000;

interface Stamped {
  readonly number: number;
  readonly by: string;
  readonly at: string;
  readonly deviceAt: string;
  readonly device?: DeviceWord | undefined;
  readonly setBackFrom?: string | undefined;
}

/** Of what was kept after the server's clock was set back only the order is known: it was said at some time before it came. */
export function stampOf({ number, by, at, deviceAt, device, setBackFrom }: Stamped): Stamp {
  if (setBackFrom !== undefined) {
    const last = Date.parse(setBackFrom);
    return { number, by, saidAt: last, keptAt: last, device: device ? { ...device, isClockSure: false } : null };
  }
  const keptAt = Date.parse(at);
  const wait = keptAt - Date.parse(deviceAt);
  // kept all the same, but when it was said cannot be told: neither late nor last by its own word
  if (!(wait < LONGEST_WAIT_MILLISECOND && wait > -LONGEST_WAIT_MILLISECOND))
    return { number, by, saidAt: keptAt, keptAt, device: { ...(device ?? { id: `act ${number}`, turn: 0 }), isClockSure: false } };
  return { number, by, saidAt: Math.min(Date.parse(deviceAt), keptAt), keptAt, device: device ?? null };
}

/** Earliest and latest moment at which it can have been. */
function boundsOf({ saidAt, keptAt, device }: Stamp): readonly [number, number] {
  if (device && !device.isClockSure) return [-Infinity, keptAt];
  return [saidAt - CLOCK_MILLISECOND, Math.min(saidAt + CLOCK_MILLISECOND, keptAt)];
}

function isOneDevice(a: Stamp, b: Stamp): boolean {
  return a.device !== null && a.device.id === b.device?.id;
}

/** Whether `a` was certainly later than `b`. */
export function isAfter(a: Stamp, b: Stamp): boolean {
  if (a.number === b.number) return false;
  if (isOneDevice(a, b)) return (a.device?.turn ?? 0) > (b.device?.turn ?? 0);
  // one person, nothing known of devices: what came later and was not said to be earlier
  if (!a.device && !b.device && a.by === b.by) return a.number > b.number && a.saidAt >= b.saidAt;
  return boundsOf(a)[0] > boundsOf(b)[1];
}

export type Order = 'before' | 'after' | 'unclear';

/**
 * Which of two statements stands: the one said later. Where nothing is known of the devices, what came later counts as later unless it
 * was certainly said before.
 */
export function orderOf(a: Stamp, b: Stamp): Order {
  if (isAfter(a, b)) return 'after';
  if (isAfter(b, a)) return 'before';
  if (isOneDevice(a, b)) return 'unclear';
  if (a.device && b.device) return 'unclear';
  const isEarlier = a.saidAt < b.saidAt - CLOCK_MILLISECOND;
  return isEarlier ? 'before' : a.number > b.number ? 'after' : 'before';
}
