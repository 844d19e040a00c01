/**
 * What becomes of readings: kept whatever they say, refused where no module could ever read so. What they name may come later or have
 * been taken back.
 */
import { refuseImpossible } from '../../../quantity/module-quantities.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { SweepFigure } from '../../../reading/sweep-file.ts';
import type { DecideContext } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { SWEEP_QUANTITIES, kindFor, type SWEEP, type SweepKind } from './acts.ts';
import { findSweep, type SweepState } from './state.ts';

export const decideSweep = {
  'reading.taken': (slice, { body }, context) =>
    refuseReading(findSweep(slice, body.sweepId)?.kind ?? kindFor(body.quantity), body, context, ['body']),
  'readings.imported': (_slice, { body }, context) => {
    for (const [i, { kind, readings }] of body.sweeps.entries())
      for (const [j, reading] of readings.entries()) {
        const refusal = refuseReading(kind, reading, context, ['body', 'sweeps', i, 'readings', j]);
        if (refusal) return refusal;
      }
    return null;
  },
} satisfies Chapter<SweepState, typeof SWEEP>['decide'];

interface Given {
  readonly place: number;
  readonly quantity: SweepFigure;
  readonly value: number;
}

function refuseReading(
  kind: SweepKind,
  { place, quantity, value }: Given,
  { profile }: DecideContext,
  path: readonly (string | number)[],
): Refusal | null {
  if (place > profile.moduleCount) return refuse('unknownName', `There is no place ${place}.`, [...path, 'place']);
  if (!SWEEP_QUANTITIES[kind].includes(quantity)) return refuse('mismatch', `A ${kind} sweep takes no ${quantity}.`, [...path, 'quantity']);
  return refuseImpossible(quantity, value, profile.moduleType, [...path, 'value']);
}
