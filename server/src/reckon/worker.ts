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
  return entry.run(input, { now: () => performance.now(), isCancelled: () => performance.now() > end });
}
