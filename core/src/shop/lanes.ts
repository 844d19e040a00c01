/** The yard by what each job waits for, and whose hands are free next: found from the rows of the jobs and the time alone. */

export const LANES = ['now', 'hands', 'clock', 'parts', 'left'] as const;
/** Hands at once; hands whenever some are free; the clock; parts; nothing any more. */
export type Lane = (typeof LANES)[number];

export const LANE_NAMES: Record<Lane, string> = {
  now: 'Hands at once',
  hands: 'For the next free hands',
  clock: 'Waits by the clock',
  parts: 'Waits for parts',
  left: 'Left the shop',
};

export const YARD_WAITS = [
  'steady',
  'cosign',
  'lapsed',
  'drained',
  'capacitors',
  'charge',
  'rest',
  'rested',
  'proven',
  'parts',
  'look',
] as const;
export type YardWaitKind = (typeof YARD_WAITS)[number];

/** What of a job its lane is found by; times are ISO 8601, null where there is none. */
export interface YardJob {
  readonly number: number;
  readonly closed: string | null;
  readonly steadyVolt: number | null;
  readonly asksCosign: boolean;
  readonly proofEndsAt: string | null;
  readonly waitEndsAt: string | null;
  readonly rest: { readonly since: string; readonly judgedFrom: string } | null;
  /** A charger or another source lies across the ends. */
  readonly hasSource: boolean;
  /** Pieces that must be had new before it is whole. */
  readonly toOrder: number;
  readonly lookAt: string | null;
  readonly stripAt: string | null;
  readonly lastAt: string;
  /** Id of the person who did the last act. */
  readonly lastBy: string;
}

export interface YardWait {
  readonly lane: Lane;
  /** Null: it waits for nothing. */
  readonly kind: YardWaitKind | null;
  /** When it ends, or since when it is over, epoch milliseconds; null where no clock runs. */
  readonly at: number | null;
}

/** What a job waits for: the most urgent first. */
export function findYardWait(job: YardJob, now: number): YardWait {
  const time = (at: string | null): number | null => (at === null ? null : Date.parse(at));
  const wait = (lane: Lane, kind: YardWaitKind | null, at: number | null = null): YardWait => ({ lane, kind, at });
  if (job.closed !== null) {
    const dues = [time(job.lookAt), time(job.stripAt)].filter((at) => at !== null);
    return wait('left', dues.length > 0 ? 'look' : null, dues.length > 0 ? Math.min(...dues) : null);
  }
  if (job.steadyVolt !== null) return wait('now', 'steady');
  if (job.asksCosign) return wait('now', 'cosign');
  const [proven, drained] = [time(job.proofEndsAt), time(job.waitEndsAt)];
  if (proven !== null) return now > proven ? wait('now', 'lapsed', proven) : wait('hands', 'proven', proven);
  if (drained !== null) return drained <= now ? wait('now', 'drained', drained) : wait('clock', 'capacitors', drained);
  if (job.hasSource) return wait('clock', 'charge');
  if (job.rest) {
    const from = Date.parse(job.rest.judgedFrom);
    return from > now ? wait('clock', 'rest', from) : wait('hands', 'rested', Date.parse(job.rest.since));
  }
  return job.toOrder > 0 ? wait('parts', 'parts') : wait('hands', null);
}

/** In a lane: what the clock frees first comes first; else what was touched longest ago; jobs that left by when they are looked at. */
export function sortLane<T extends { readonly job: YardJob; readonly wait: YardWait }>(jobs: readonly T[]): T[] {
  return [...jobs].sort(
    (a, b) =>
      (a.wait.at ?? Infinity) - (b.wait.at ?? Infinity) ||
      Date.parse(a.job.lastAt) - Date.parse(b.job.lastAt) ||
      a.job.number - b.job.number,
  );
}

export interface Hands {
  /** Id of the person. */
  readonly by: string;
  /** The job that the last act was on. */
  readonly number: number;
  readonly since: number;
  /** Null: at that job now; else free, until then where its clock calls back. */
  readonly free: { readonly until: number | null } | null;
}

/** After so long without an act nobody is taken to stand at a job any more; common practice, no source. */
const AWAY_MILLISECOND = 30 * 60_000;

/** Whose hands are free: whoever's last job waits by the clock, or who did nothing for half an hour. Free ones first. */
export function findHands(jobs: readonly YardJob[], now: number): Hands[] {
  const last = new Map<string, YardJob>();
  for (const job of jobs) {
    if (job.lastBy === '') continue;
    const known = last.get(job.lastBy);
    if (!known || Date.parse(job.lastAt) > Date.parse(known.lastAt)) last.set(job.lastBy, job);
  }
  return [...last]
    .map(([by, job]): Hands => {
      const since = Date.parse(job.lastAt);
      const { lane, at } = findYardWait(job, now);
      const isAway = now - since > AWAY_MILLISECOND;
      const waits = lane === 'clock' && at !== null;
      const free = waits ? { until: at } : isAway || lane === 'clock' || lane === 'left' || lane === 'parts' ? { until: null } : null;
      return { by, number: job.number, since, free };
    })
    .sort(
      (a, b) =>
        Number(a.free === null) - Number(b.free === null) ||
        (b.free?.until ?? Infinity) - (a.free?.until ?? Infinity) ||
        a.by.localeCompare(b.by),
    );
}
