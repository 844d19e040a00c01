/** One calculation as the registry knows it. */
import * as z from 'zod';
import type { SearchContext } from '../match/module.ts';
import { refuse, type Result } from '../result.ts';

export const GROUPS = [
  'Isolating',
  'The string',
  'Torque',
  'Readings',
  'Cells',
  'Bars and joints',
  'Matching',
  'Cooling',
  'Lifting',
  'Money and odds',
] as const;
/** Where a calculation is looked for, in the order of the work. */
export type Group = (typeof GROUPS)[number];

export interface Entry {
  readonly name: string;
  /** A few words that it is found by. */
  readonly title: string;
  readonly group: Group;
  /** One line: what it is for. */
  readonly purpose: string;
  readonly formula: string;
  readonly source: string;
  /** One good question: what the form begins with, and what a test asks. */
  readonly example: unknown;
  readonly input: z.ZodType;
  readonly output: z.ZodType;
  /** Whether it may take long enough to want a worker. */
  readonly isHeavy: boolean;
  /** Parses, computes. A field that does not fit the schema is refused `impossible` with its path. */
  readonly run: (input: unknown, context?: SearchContext) => Result<unknown>;
}

/** Ties a schema and a function into an entry. */
export function entry<I extends z.ZodType, O extends z.ZodType>(definition: {
  readonly name: string;
  readonly title: string;
  readonly group: Group;
  readonly purpose: string;
  readonly formula: string;
  readonly source: string;
  readonly example: z.input<I>;
  readonly input: I;
  readonly output: O;
  readonly isHeavy?: boolean;
  readonly compute: (input: z.output<I>, context: SearchContext) => Result<z.input<O>>;
}): Entry {
  const { compute, isHeavy = false, ...rest } = definition;
  return {
    ...rest,
    isHeavy,
    run: (raw, context = {}) => {
      const parsed = definition.input.safeParse(raw);
      if (parsed.success) return compute(parsed.data, context);
      const issue = parsed.error.issues[0];
      const path = (issue?.path ?? []).map((p) => (typeof p === 'symbol' ? p.toString() : p));
      return refuse('impossible', issue?.message ?? 'The input does not fit.', path);
    },
  };
}

/** A number that is neither infinite nor beyond what the trade measures. */
export const number = z.number().min(-1e12).max(1e12);
export const positive = z.number().positive().max(1e12);
export const atLeastZero = z.number().min(0).max(1e12);
export const id = z.string().min(1).max(120);
