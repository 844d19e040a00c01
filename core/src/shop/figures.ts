/** What the jobs of a shop add up to: comebacks, minutes against the quote, money that is out, modules in and out. */
import { SCHOOL_NAMES, type School } from '../job/chapters/plan/acts.ts';
import type { JobKind } from '../job/chapters/intake/kinds.ts';
import { localTime } from '../quantity/calendar.ts';
import { STAGES, type Stage } from '../pack/stage.ts';
import { median } from '../stats/robust.ts';
import type { CoreOwed, JobMemory } from './remember.ts';

/** A job as the figures need it. */
export interface FigureJob {
  readonly jobId: string;
  readonly number: number;
  readonly kind: JobKind;
  readonly profileId: string;
  readonly profileName: string;
  /** Job that it comes back from; null where it is none. */
  readonly comebackOfId: string | null;
  readonly memory: Pick<JobMemory, 'minutes' | 'school' | 'closedAt' | 'modules' | 'core' | 'explained'>;
}

/** Minutes that a profile allows for its stages. */
export interface QuotedProfile {
  readonly id: string;
  readonly quotes: readonly { readonly stage: Stage; readonly minute: number }[];
}

export interface ComebackLine {
  readonly school: School | 'none';
  readonly schoolName: string;
  readonly profileName: string;
  readonly closed: number;
  readonly comebacks: number;
  /** 0 to 1, with one comeback and one good job added to each line (Laplace), so that a single job proves nothing. */
  readonly share: number;
  readonly jobs: readonly number[];
}

export interface MinuteLine {
  readonly stage: Stage;
  readonly profileName: string;
  readonly quotedMinute: number | null;
  readonly medianMinute: number;
  readonly jobs: number;
}

export interface MoneyLine extends CoreOwed {
  readonly jobId: string;
  readonly number: number;
  /** Not shipped, and its day is over. */
  readonly isLate: boolean;
}

export interface MonthLine {
  /** `2026-11`, by when the job was closed. */
  readonly month: string;
  readonly in: number;
  readonly out: number;
  readonly closed: number;
}

export interface ShopFigures {
  readonly comebacks: readonly ComebackLine[];
  readonly minutes: readonly MinuteLine[];
  readonly money: readonly MoneyLine[];
  readonly outstanding: number;
  readonly months: readonly MonthLine[];
}

/**
 * @param now epoch milliseconds
 * @param timeZone of the shop, IANA name: days and months are those of its calendar
 */
export function findFigures(jobs: readonly FigureJob[], profiles: readonly QuotedProfile[], now: number, timeZone: string): ShopFigures {
  const today = localTime(now, timeZone).date;
  const money = jobs.flatMap((j) => (j.memory.core && !j.memory.core.isSettled ? [moneyOf(j, j.memory.core, today)] : []));
  return {
    comebacks: countComebacks(jobs),
    minutes: countMinutes(jobs, profiles),
    money: money.sort((a, b) => (a.shipBy < b.shipBy ? -1 : a.shipBy > b.shipBy ? 1 : a.number - b.number)),
    outstanding: money.reduce((sum, m) => sum + m.outstanding, 0),
    months: countMonths(jobs, timeZone),
  };
}

function moneyOf({ jobId, number }: FigureJob, core: CoreOwed, today: string): MoneyLine {
  return { ...core, jobId, number, isLate: !core.isShipped && core.shipBy < today };
}

function countComebacks(jobs: readonly FigureJob[]): ComebackLine[] {
  const back = new Map<string, number[]>();
  for (const { comebackOfId, number } of jobs)
    if (comebackOfId !== null) back.set(comebackOfId, [...(back.get(comebackOfId) ?? []), number]);
  const lines = new Map<string, { school: School | 'none'; profileName: string; closed: number; comebacks: number; jobs: number[] }>();
  for (const job of jobs) {
    if (job.memory.closedAt === null) continue;
    const school = job.memory.school ?? (job.kind === 'exchange' ? 'exchangePack' : 'none');
    const key = `${school}/${job.profileId}`;
    const line = lines.get(key) ?? { school, profileName: job.profileName, closed: 0, comebacks: 0, jobs: [] };
    const returned = back.get(job.jobId) ?? [];
    lines.set(key, line);
    line.closed++;
    // a job that came back twice is one that did not hold
    if (returned.length > 0) line.comebacks++;
    line.jobs.push(...returned);
  }
  return [...lines.values()]
    .map((line) => ({
      ...line,
      schoolName: line.school === 'none' ? 'No modules changed' : SCHOOL_NAMES[line.school],
      share: (line.comebacks + 1) / (line.closed + 2),
    }))
    .sort((a, b) => b.comebacks / b.closed - a.comebacks / a.closed || a.schoolName.localeCompare(b.schoolName) || a.profileName.localeCompare(b.profileName)); // prettier-ignore
}

function countMinutes(jobs: readonly FigureJob[], profiles: readonly QuotedProfile[]): MinuteLine[] {
  const byProfile = new Map<string, FigureJob[]>();
  for (const job of jobs) byProfile.set(job.profileId, [...(byProfile.get(job.profileId) ?? []), job]);
  return [...byProfile].flatMap(([profileId, list]) =>
    STAGES.flatMap((stage): MinuteLine[] => {
      const spent = list.map((j) => j.memory.minutes[stage] ?? 0).filter((minute) => minute > 0);
      if (spent.length === 0) return [];
      const quotedMinute = profiles.find((p) => p.id === profileId)?.quotes.find((q) => q.stage === stage)?.minute ?? null;
      return [{ stage, profileName: list[0]?.profileName ?? profileId, quotedMinute, medianMinute: median(spent), jobs: spent.length }];
    }),
  );
}

function countMonths(jobs: readonly FigureJob[], timeZone: string): MonthLine[] {
  const months = new Map<string, { in: number; out: number; closed: number }>();
  for (const { memory } of jobs) {
    if (memory.closedAt === null) continue;
    const month = localTime(Date.parse(memory.closedAt), timeZone).date.slice(0, 7);
    const sum = months.get(month) ?? { in: 0, out: 0, closed: 0 };
    months.set(month, { in: sum.in + memory.modules.in, out: sum.out + memory.modules.out, closed: sum.closed + 1 });
  }
  return [...months].map(([month, sum]) => ({ month, ...sum })).sort((a, b) => (a.month < b.month ? -1 : 1));
}
