/** What to know on coming back to a job that stopped. */
import { sayTime } from '../../isolate/proof.ts';
import type { Balance } from '../../ledger/ledger.ts';
import type { Profile } from '../../pack/profile.ts';
import { listPlaces } from '../chapters/strip/view.ts';
import type { JobState } from '../frame/state.ts';

export interface Interruption {
  /** Seconds since the last event. */
  readonly since: number;
  readonly lines: readonly string[];
}

/** A job that nobody touched for longer than this, in minutes, is told where it stands when it is opened again. */
const INTERRUPTED_MINUTE = 20;

/**
 * What to know on coming back to a job that stopped: what is off, which proof has lapsed, what is next. Null while work goes on.
 * @param now server time, epoch milliseconds
 * @param next what comes next, as it is said everywhere
 * @param lapse why the last signed proof no longer stands; null where it stands or none was signed
 */
export function findInterruption(
  state: JobState,
  profile: Profile,
  balance: Balance,
  now: number,
  lapse: string | null,
  next: string | null,
): Interruption | null {
  const since = (now - Date.parse(state.lastAt)) / 1000;
  if (!(since > INTERRUPTED_MINUTE * 60) || state.strip.moved.length === 0) return null;
  const lines = [`Nothing was recorded for ${sayTime(since)}.`];
  const off = listPlaces([...profile.zones, ...profile.layers], balance).filter((p) => p.owed > 0);
  lines.push(
    off.length === 0
      ? 'Everything that came off is back or accounted for.'
      : `Off: ${off.map((p) => `${p.owed} at ${p.place.name}`).join(', ')}.`,
  );
  const absent = balance.parts.filter((b) => b.toOrder > 0);
  if (absent.length > 0) lines.push(`To order: ${absent.map((b) => `${b.toOrder} × ${b.part.name}`).join(', ')}.`);
  if (lapse !== null) lines.push(`The proof of dead no longer stands. ${lapse}`);
  if (next !== null) lines.push(`Next: ${next}.`);
  return { since, lines };
}
