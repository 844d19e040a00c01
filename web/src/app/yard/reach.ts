import type { JobSummary } from '@estuarine/contract';
import type { WaitingVolt } from './waiting-volts.ts';

/**
 * What is within reach on a job of the yard, in volt: a proof that has lapsed by the time alone counts no longer, and what waits on this
 * device raises it. Of a job that this device has not seen anything may be bare.
 * @param now server time, epoch milliseconds
 */
export function reachOf(
  job: Pick<JobSummary, 'proofEndsAt' | 'lapsedVolt' | 'reachableVolt' | 'behindVolt'>,
  waiting: Pick<WaitingVolt, 'volt'> | undefined,
  now: number,
): number {
  const hasLapsed = job.proofEndsAt !== null && now > Date.parse(job.proofEndsAt);
  const kept = hasLapsed ? job.lapsedVolt : job.reachableVolt;
  return waiting ? Math.max(kept, waiting.volt ?? job.behindVolt) : kept;
}
