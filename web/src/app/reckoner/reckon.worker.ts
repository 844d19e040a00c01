/** Runs one calculation of the registry off the main thread. Cancelling ends the worker. */
import type { Result } from '@estuarine/core';
import { findEntry } from '@estuarine/core/reckon';
import * as comlink from 'comlink';

function run(name: string, input: unknown): Result<unknown> {
  const entry = findEntry(name);
  if (!entry) throw new Error(`no calculation ${name}`);
  return entry.run(input, { now: () => performance.now() });
}

export type ReckonFunction = typeof run;

comlink.expose(run);
