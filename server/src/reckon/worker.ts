/** Runs one calculation of the registry off the main thread. */
import type { Result } from '@estuarine/core';
import { findEntry } from '@estuarine/core/reckon';

export default function run({
  name,
  input,
  limitMillisecond,
}: {
  name: string;
  input: unknown;
  limitMillisecond: number;
}): Result<unknown> {
  const entry = findEntry(name);
  if (!entry) throw new Error(`no calculation ${name}`);
  const end = performance.now() + limitMillisecond;
  return entry.run(withinLimit(input, limitMillisecond), { now: () => performance.now(), isCancelled: () => performance.now() > end });
}

/** A search that was given longer than the door allows ends in time with the bound it has, instead of being stopped without one. */
function withinLimit(input: unknown, limitMillisecond: number): unknown {
  if (typeof input !== 'object' || input === null || !('timeLimitMillisecond' in input)) return input;
  const wanted = input.timeLimitMillisecond;
  return typeof wanted === 'number' ? { ...input, timeLimitMillisecond: Math.min(wanted, 0.8 * limitMillisecond) } : input;
}
