/** A supplier's conditions of warranty, as data with versions. What they ask for is common practice, no source; the figures are theirs. */
import * as z from 'zod';
import { answer, refuse, type Result } from '../result.ts';

export const CONDITION_KINDS = [
  'orderKept',
  'torqueBothPasses',
  'barsRenewed',
  'newNuts',
  'oldReturned',
  'coolingAnswered',
  'scanKept',
  'photographs',
  'finishedWithin',
] as const;
export type ConditionKind = (typeof CONDITION_KINDS)[number];

const days = z.int().min(1).max(3650);

export const conditionSchema = z.discriminatedUnion('kind', [
  /** Its modules in its own order: the places of the plan, none moved since. */
  z.strictObject({ kind: z.literal('orderKept') }),
  /** Every terminal to its torque, in both passes. */
  z.strictObject({ kind: z.literal('torqueBothPasses') }),
  z.strictObject({ kind: z.literal('barsRenewed') }),
  z.strictObject({ kind: z.literal('newNuts') }),
  z.strictObject({ kind: z.literal('oldReturned'), withinDays: days }),
  z.strictObject({ kind: z.literal('coolingAnswered') }),
  /** A scan after the road test, kept with the job. */
  z.strictObject({ kind: z.literal('scanKept') }),
  z.strictObject({ kind: z.literal('photographs'), least: z.int().min(1).max(100) }),
  /** The job is closed so many days after it was opened. */
  z.strictObject({ kind: z.literal('finishedWithin'), days }),
]);
export type Condition = z.infer<typeof conditionSchema>;

export const TERMS_FORMAT = 'estuarine-supplier-terms';

export const termsSchema = z.strictObject({
  format: z.literal(TERMS_FORMAT),
  id: z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/, 'letters, digits, point, dash and underscore, up to 64'),
  version: z.int().min(1).max(2_147_483_647),
  supplier: z.string().trim().min(1).max(120),
  /** How long the supplier answers for its parts. */
  months: z.int().min(1).max(240),
  conditions: z
    .array(conditionSchema)
    .min(1)
    .max(20)
    .refine((list) => new Set(list.map((c) => c.kind)).size === list.length, 'Each condition once.'),
});
export type SupplierTerms = z.infer<typeof termsSchema>;

/** A supplier's file as it came. Refusals: `unreadable` for what is no JSON or no such file, with the place of the first fault. */
export function readTerms(text: string): Result<SupplierTerms> {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    return refuse('unreadable', 'This is no JSON file. Nothing was taken.');
  }
  if (typeof given !== 'object' || given === null || !('format' in given) || given.format !== TERMS_FORMAT)
    return refuse('unreadable', `This is no file of a supplier’s conditions: "format" is not "${TERMS_FORMAT}". Nothing was taken.`, ['format']); // prettier-ignore
  const read = termsSchema.safeParse(given);
  if (read.success) return answer(read.data);
  const [issue] = read.error.issues;
  const path = (issue?.path ?? []).filter((p): p is string | number => typeof p !== 'symbol');
  return refuse('unreadable', `${path.join('.') || 'the file'}: ${issue?.message ?? 'does not fit'}. Nothing was taken.`, path);
}

/** What a condition asks for, as the supplier says it. */
export function sayCondition(condition: Condition): string {
  switch (condition.kind) {
    case 'orderKept':
      return 'Modules in the supplier’s own order';
    case 'torqueBothPasses':
      return 'Every terminal to its torque, in both passes';
    case 'barsRenewed':
      return 'Bus bars renewed';
    case 'newNuts':
      return 'New nuts on the bars';
    case 'oldReturned':
      return `Old ones returned within ${condition.withinDays} days`;
    case 'coolingAnswered':
      return 'Cooling cleaned and answered';
    case 'scanKept':
      return 'A scan after the road test, kept';
    case 'photographs':
      return `${condition.least} ${condition.least === 1 ? 'photograph' : 'photographs'} or more`;
    case 'finishedWithin':
      return `Finished within ${condition.days} days`;
  }
}
