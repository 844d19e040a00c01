import { readEvent, type JobEvent } from '@estuarine/core';
import type { WaitingAct } from './store.ts';

/** An act on its way as the event it would be; null where it is of a later release than this application. */
export function eventOf(sent: WaitingAct['sent'], number: number, at: string, jobId: string): JobEvent | null {
  const { commandId, by, deviceAt, device, version, act } = sent;
  const read = readEvent({ number, commandId, by, at, deviceAt, device, type: act.type, version, body: act.body }, jobId);
  return read.kind === 'answer' ? read.value : null;
}
