/**
 * The proof of dead by live-dead-live: a known source, plus to minus, the leads swapped, each pole to the chassis, the known source
 * again. Judges what was read; knows nothing of jobs. Some test the two cables only: an insulation fault hides from that, so the
 * poles to the chassis are asked too. Common practice, no source; the 60 V mark: UN R100, ISO 6469-3 (from memory).
 */
import { DEFAULT_RESOLUTION_VOLT, fitDecay, type Decay } from './decay.ts';

/** In the order they are taken. */
export const PROOF_ENTRIES = ['knownBefore', 'plusMinus', 'minusPlus', 'plusChassis', 'minusChassis', 'knownAfter'] as const;
export type ProofEntry = (typeof PROOF_ENTRIES)[number];
const AT_THE_POSTS = ['plusMinus', 'minusPlus', 'plusChassis', 'minusChassis'] as const satisfies readonly ProofEntry[];

/** All six within this time, by the clock of the device that read them and by the server's. */
export const PROOF_MINUTES = 5;
const MINUTE = 60_000;

export interface ProofReading {
  readonly entry: ProofEntry;
  readonly volt: number;
  /** When it was read, by the device's corrected clock, epoch milliseconds. */
  readonly readAt: number;
  /** When the server kept it, epoch milliseconds; hazard waits run by this. */
  readonly keptAt: number;
  /** Order in which it was kept. */
  readonly number: number;
}

export interface ProofQuestion {
  readonly readings: readonly ProofReading[];
  /** Between what the known source must read. */
  readonly known: { readonly lowVolt: number; readonly highVolt: number };
  readonly limitVolt: number;
  /** Smallest step of the meter. */
  readonly resolutionVolt: number;
  /** End of the capacitor wait, epoch milliseconds; null while it has not begun (plug in, or 12 V on). */
  readonly waitEndsAt: number | null;
  /** Why the readings no longer rest on what they must be younger than, as a sentence; null where they do. */
  readonly whyNotResting: string | null;
  /** Timed readings plus to minus since plug, 12 V or key were last touched, of this proof and earlier ones, for the curve. */
  readonly history: readonly { readonly readAt: number; readonly volt: number }[];
}

export type ProofVerdict =
  /** Every piece of evidence stands and is at or below the limit. */
  | 'dead'
  /** Not all six yet, nothing wrong so far. */
  | 'open'
  | 'draining'
  | 'steady'
  /** Above the limit, too few readings to say why. */
  | 'live'
  | 'meterNotProven'
  /** Six readings, but not one proof: out of order, too slow, before the end of the wait, or something was touched between. */
  | 'void';

export interface ProofFinding {
  readonly verdict: ProofVerdict;
  /** What a technician would say, with the numbers. */
  readonly sentence: string;
  /** What to do now. */
  readonly todo: string;
  readonly missing: readonly ProofEntry[];
  /** The reading that counts for each entry: the latest. */
  readonly counting: Partial<Record<ProofEntry, ProofReading>>;
  /** Highest magnitude at the posts among the counting readings. */
  readonly highestVolt: number | null;
  readonly decay: Decay | null;
  /** When to read again, epoch milliseconds; null where that is no help. */
  readonly readAgainAt: number | null;
}

/** Judges a proof. Any number of readings in any order is an answer; `dead` needs every piece. */
export function judgeProof(question: ProofQuestion): ProofFinding {
  const { readings, known, limitVolt, resolutionVolt } = question;
  const counting: Partial<Record<ProofEntry, ProofReading>> = {};
  for (const reading of readings) counting[reading.entry] = reading;
  const missing = PROOF_ENTRIES.filter((e) => counting[e] === undefined);
  const atPosts = AT_THE_POSTS.map((e) => counting[e]).filter((r) => r !== undefined);
  const highestVolt = atPosts.length > 0 ? Math.max(...atPosts.map((r) => Math.abs(r.volt))) : null;
  const decay = findDecay(question.history, limitVolt, resolutionVolt);
  const base = { missing, counting, highestVolt, decay, readAgainAt: null };
  const isKnown = (volt: number): boolean => Math.abs(volt) >= known.lowVolt && Math.abs(volt) <= known.highVolt;
  for (const entry of ['knownBefore', 'knownAfter'] as const) {
    const read = counting[entry];
    if (read && !isKnown(read.volt)) {
      const when = entry === 'knownBefore' ? 'before' : 'after';
      return {
        ...base,
        verdict: 'meterNotProven',
        sentence: `The meter read ${say(read.volt)} V on the known source ${when}, which stands between ${known.lowVolt} and ${known.highVolt} V. Nothing it says of the posts counts.`,
        todo: 'Look at leads, range, fuse and battery of the meter, or take another; begin again with the known source.',
      };
    }
  }
  if (highestVolt !== null && highestVolt > limitVolt) return judgeLive(base, decay, highestVolt, question);
  if (missing.length > 0) return { ...base, verdict: 'open', ...sayOpen(missing) };
  const fault = findVoid(counting as Record<ProofEntry, ProofReading>, question);
  if (fault) return { ...base, verdict: 'void', sentence: fault, todo: 'Take all six again, known source first.' };
  return {
    ...base,
    verdict: 'dead',
    sentence: `Six readings of one meter agree: at most ${say(highestVolt ?? 0)} V at these posts, limit ${limitVolt} V, and the meter read its known source before and after.`,
    todo: 'Sign it. It ends when plug, 12 V or key is touched, after a break, and at the end of the shift.',
  };
}

type Base = Pick<ProofFinding, 'missing' | 'counting' | 'highestVolt' | 'decay' | 'readAgainAt'>;

function judgeLive(base: Base, decay: Decay | null, volt: number, { limitVolt, history }: ProofQuestion): ProofFinding {
  const last = history[history.length - 1];
  if (decay?.verdict === 'draining' && decay.tauSecond !== null && decay.secondsToLimit !== null && last) {
    return {
      ...base,
      verdict: 'draining',
      sentence: `Draining, not dead. ${history.length} readings fit one curve (tau ${sayTime(decay.tauSecond)}, R² ${(decay.rSquared ?? 0).toFixed(3)}). Below ${limitVolt} V in ${sayTime(decay.secondsToLimit)} from the last reading.`,
      todo: 'Wait, gloves on, then begin again with the known source.',
      readAgainAt: last.readAt + Math.ceil(decay.secondsToLimit) * 1000,
    };
  }
  if (decay?.verdict === 'steady')
    return {
      ...base,
      verdict: 'steady',
      sentence: `Steady at ${say(volt)} V over ${history.length} readings: something feeds these posts. That is no capacitor draining.`,
      todo: 'Hands off. Suspect a contactor stuck shut, a wrong measuring point, or the plug not out; look at each in turn. The maker’s information says how to go on with a stuck contactor.',
    };
  return {
    ...base,
    verdict: 'live',
    sentence: `${say(volt)} V at the posts, limit ${limitVolt} V. Live.`,
    todo: 'Gloves on. Read plus to minus again after a minute or so: three timed readings tell a draining capacitor from a stuck contactor.',
    readAgainAt: last ? last.readAt + MINUTE : null,
  };
}

const ENTRY_WORDS: Record<ProofEntry, string> = {
  knownBefore: 'known source before',
  plusMinus: 'plus to minus',
  minusPlus: 'leads swapped',
  plusChassis: 'plus to chassis',
  minusChassis: 'minus to chassis',
  knownAfter: 'known source after',
};

export function proofEntryName(entry: ProofEntry): string {
  return ENTRY_WORDS[entry];
}

function sayOpen(missing: readonly ProofEntry[]): { sentence: string; todo: string } {
  const next = missing[0] ?? 'knownBefore';
  const left = missing.length;
  return {
    sentence:
      left === PROOF_ENTRIES.length
        ? 'Nothing read yet: the posts count as live.'
        : `${left} of 6 readings still to come: the posts count as live.`,
    todo: `Next: ${ENTRY_WORDS[next]}.`,
  };
}

/** Why six readings are no proof; null when they are one. */
function findVoid(r: Record<ProofEntry, ProofReading>, question: ProofQuestion): string | null {
  const { waitEndsAt, whyNotResting } = question;
  const between = AT_THE_POSTS.map((e) => r[e]);
  if (between.some((b) => b.number < r.knownBefore.number || b.readAt < r.knownBefore.readAt))
    return 'A reading at the posts is older than the known source before it: the meter was not proven when it was taken.';
  if (between.some((b) => b.number > r.knownAfter.number || b.readAt > r.knownAfter.readAt))
    return 'A reading at the posts is newer than the known source after it: the meter was not proven again since.';
  if (whyNotResting !== null) return whyNotResting;
  if (waitEndsAt === null) return 'The wait for the capacitors has not begun: plug or 12 V is stated in place.';
  const all = PROOF_ENTRIES.map((e) => r[e]);
  if (all.some((x) => x.readAt < waitEndsAt || x.keptAt < waitEndsAt)) return 'Read before the wait for the capacitors was over.';
  // by the device's clock and by the server's: one of them may be wrong
  const spanOf = (times: number[]): number => Math.max(...times) - Math.min(...times);
  const span = Math.max(spanOf(all.map((x) => x.readAt)), spanOf(all.map((x) => x.keptAt)));
  if (span > PROOF_MINUTES * MINUTE)
    return `The six readings took ${sayTime(span / 1000)}: one proof is taken within ${PROOF_MINUTES} minutes.`;
  return null;
}

function findDecay(history: ProofQuestion['history'], limitVolt: number, resolutionVolt: number): Decay | null {
  const first = history[0];
  if (!first) return null;
  const rising: { second: number; volt: number }[] = [];
  for (const { readAt, volt } of history) {
    const second = (readAt - first.readAt) / 1000;
    if (second > (rising[rising.length - 1]?.second ?? -1)) rising.push({ second, volt });
  }
  const fit = fitDecay(rising, limitVolt, resolutionVolt > 0 ? resolutionVolt : DEFAULT_RESOLUTION_VOLT);
  return fit.kind === 'answer' ? fit.value : null;
}

function say(volt: number): string {
  return Math.abs(volt).toFixed(1);
}

/** Seconds as a person says them: `42 s`, `5 min 42 s`, `1 h 05 min`. */
export function sayTime(seconds: number): string {
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const minutes = Math.floor(whole / 60);
  if (minutes < 60) return `${minutes} min ${String(whole % 60).padStart(2, '0')} s`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`;
}
