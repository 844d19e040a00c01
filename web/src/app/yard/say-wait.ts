/** What a job of the yard waits for, in words with its time; counted down by whoever asks again. */
import type { JobSummary } from '@estuarine/contract';
import { sayTime, type YardWait } from '@estuarine/core';

/** Empty where it waits for nothing. */
export function sayWait(job: JobSummary, { kind, at }: YardWait, now: number): string {
  const left = (at ?? now) - now;
  switch (kind) {
    case null:
      return '';
    case 'steady':
      return `steady at ${job.steadyVolt?.toFixed(0) ?? '?'} V: hands off`;
    case 'cosign':
      return 'asks for a co-sign';
    case 'lapsed':
      return 'proof has lapsed';
    case 'drained':
      return 'wait is over: prove dead';
    case 'capacitors':
      return `capacitors, ${Math.floor(left / 60_000)}:${String(Math.floor(left / 1000) % 60).padStart(2, '0')} to go`;
    case 'charge':
      return 'a source lies across the ends';
    case 'rest':
      return `rest, judged in ${hours(left)}`;
    case 'rested':
      return `rested ${hours(Math.max(0, -left))}: read again`;
    case 'proven':
      return `proven dead until ${clock(at ?? now)}`;
    case 'parts':
      return `${job.toOrder} ${job.toOrder === 1 ? 'piece' : 'pieces'} to be had new`;
    case 'look':
      return sayLook(job.lookAt, job.stripAt, now);
  }
}

/** The next look at the air path of a vehicle that has left, and when its pack is opened for its cells. */
function sayLook(lookAt: string | null, stripAt: string | null, now: number): string {
  const dayOf = (at: string): string =>
    new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }).format(Date.parse(at));
  const look = lookAt && (now > Date.parse(lookAt) ? `air path: due since ${dayOf(lookAt)}` : `air path again ${dayOf(lookAt)}`);
  const strip = stripAt && (now > Date.parse(stripAt) ? `cells due ${dayOf(stripAt)}` : `cells ${dayOf(stripAt)}`);
  return [look, strip].filter(Boolean).join(', ');
}

function hours(millisecond: number): string {
  return sayTime(60 * Math.ceil(millisecond / 60_000));
}

export function clock(at: number): string {
  return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}
