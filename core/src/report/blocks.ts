/** What a report is made of, what it is made from, and how times and people are written in it. */
import type { Picture } from '../drawing/picture.ts';
import type { Customer, Vehicle } from '../job/chapters/intake/acts.ts';
import type { JobState } from '../job/frame/state.ts';
import type { Profile } from '../pack/profile.ts';
import { localTime } from '../quantity/calendar.ts';
import type { Policy } from '../shop/act.ts';
import type { SupplierTerms } from '../warranty/terms.ts';

export interface TableColumn {
  readonly name: string;
  /** Set in figures, to the right. */
  readonly isFigure?: boolean;
  /** Of the width, beside the others' shares. */
  readonly share: number;
}

export type ReportBlock =
  | { readonly kind: 'page' }
  | { readonly kind: 'heading'; readonly level: 1 | 2 | 3; readonly text: string }
  | { readonly kind: 'text'; readonly text: string; readonly tone?: 'plain' | 'quiet' | 'caution' }
  | { readonly kind: 'facts'; readonly rows: readonly { readonly name: string; readonly value: string }[] }
  | { readonly kind: 'table'; readonly columns: readonly TableColumn[]; readonly rows: readonly (readonly string[])[] }
  | { readonly kind: 'picture'; readonly picture: Picture; readonly says: string }
  | { readonly kind: 'photos'; readonly photos: readonly { readonly photoId: string; readonly caption: string }[] };

export interface Report {
  readonly title: string;
  readonly number: number;
  readonly blocks: readonly ReportBlock[];
  /** Shown, in order; none of them erased. */
  readonly photoIds: readonly string[];
}

export interface ReportInput {
  readonly state: JobState;
  readonly profile: Profile;
  readonly policy: Policy;
  /** Null once erased. */
  readonly vehicle: Vehicle | null;
  readonly customer: Customer | null;
  /** Figures of modules that were measured before this job. */
  readonly shelf: ReadonlyMap<string, { readonly capacityAh: number | null; readonly resistanceMilliohm: number | null }>;
  readonly terms: SupplierTerms | null;
  /** Numbers of the jobs that it comes back from; null where it is none. */
  readonly comebackOf: number | null;
  /** Hash of the last event of the chain, in hex. */
  readonly chainHash: string;
  /** Of the key that seals the record, as read aloud; null where there is none. */
  readonly fingerprint: string | null;
  /** The same as a code for a phone; null where there is none. */
  readonly fingerprintCode: Picture | null;
  /** Whether somebody stands in for real instruments here. */
  readonly isDemo: boolean;
  /** Epoch milliseconds. */
  readonly now: number;
}

export interface Words {
  /** `2026-11-26, 14:05`, by the clocks of the shop. */
  readonly when: (at: string) => string;
  readonly day: (at: number) => string;
  readonly money: (amount: number) => string;
}

export function writeFor({ policy }: Pick<ReportInput, 'policy'>): Words {
  const { timeZone } = policy.isolation;
  return {
    when: (at) => {
      const { date, time } = localTime(Date.parse(at), timeZone);
      return `${date}, ${time}`;
    },
    day: (at) => localTime(at, timeZone).date,
    money: (amount) => `${amount.toFixed(2)} ${policy.money.currency}`,
  };
}

/** Initials as they stand on paper. */
export function initials(by: string): string {
  return by.toUpperCase();
}

/** A figure, or a dash where nobody measured. */
export function figure(value: number | null | undefined, digits: number): string {
  return value === null || value === undefined ? '–' : value.toFixed(digits);
}
