/** Codes of one scan beside another: what is gone, what stays, what came back after it was cleared. */
import type { CodeStatus } from './general.ts';

export interface ScannedCode {
  readonly code: string;
  readonly status: CodeStatus;
}

/** When a scan was made: before anything was done, after the repair, after the road test. */
export const SCAN_MOMENTS = ['asFound', 'afterRepair', 'afterRoadTest'] as const;
export type ScanMoment = (typeof SCAN_MOMENTS)[number];
export const SCAN_MOMENT_NAMES: Record<ScanMoment, string> = {
  asFound: 'as found',
  afterRepair: 'after the repair',
  afterRoadTest: 'after the road test',
};

export interface CodesAt {
  readonly moment: ScanMoment;
  /** Number of the event, rising. */
  readonly number: number;
  readonly codes: readonly ScannedCode[];
}

/**
 * - `there`: found, and nothing was read since
 * - `gone`: found, and no longer there
 * - `stays`: found before and since, and never cleared between
 * - `returned`: found, cleared, and there again
 * - `came`: was not there as found
 * - `permanent`: cleared, and left by the car until it finds the fault gone itself: a drive clears it, not a tool
 */
export type CodeFate = 'there' | 'gone' | 'stays' | 'returned' | 'came' | 'permanent';
export const CODE_FATE_NAMES: Record<CodeFate, string> = {
  there: 'there',
  gone: 'gone',
  stays: 'stays',
  returned: 'came back after it was cleared',
  came: 'new since',
  permanent: 'left by the car until a drive shows it gone; no tool clears it',
};

export interface FollowedCode {
  readonly code: string;
  readonly fate: CodeFate;
  /** In the last scan; empty where it is gone. */
  readonly statuses: readonly CodeStatus[];
}

/**
 * What became of every code, by its text.
 * @param scans in the order they were made
 * @param cleared numbers of the events that cleared codes
 */
export function followCodes(scans: readonly CodesAt[], cleared: readonly number[]): FollowedCode[] {
  const last = scans.at(-1);
  if (!last) return [];
  const all = [...new Set(scans.flatMap((s) => s.codes.map((c) => c.code)))].sort((a, b) => (a < b ? -1 : 1));
  return all.map((code) => {
    const statuses = last.codes.filter((c) => c.code === code).map((c) => c.status);
    const seen = scans.filter((s) => s.codes.some((c) => c.code === code));
    const first = seen[0] as CodesAt;
    const fateOf = (): CodeFate => {
      if (statuses.length === 0) return 'gone';
      const wasCleared = cleared.some((n) => n > first.number && n < last.number);
      if (wasCleared) return statuses.every((s) => s === 'permanent') ? 'permanent' : 'returned';
      if (first.number !== scans[0]?.number) return 'came';
      return seen.length > 1 ? 'stays' : 'there';
    };
    return { code, fate: fateOf(), statuses };
  });
}
