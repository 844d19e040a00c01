/** What becomes of readings: kept whatever they say, refused where no module could ever read so. */
import { refuseImpossible } from '../../../quantity/module-quantities.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { SweepFigure } from '../../../reading/sweep-file.ts';
import type { Chapter, DecideContext } from '../chapter.ts';
import { SWEEP_QUANTITIES, type SweepAct, type SweepKind } from './acts.ts';
import { findSweep, keyAt, type SweepState } from './state.ts';

export const decideSweep = {
  'sweep.started': (slice, { body }) =>
    body.restSince !== null && !findSweep(slice, body.restSince)
      ? refuse('gone', 'The sweep that the rest began with is not on this job.', ['body', 'restSince'])
      : null,
  'sweep.ended': (slice, { body }) => (findSweep(slice, body.sweepId) ? null : noSweep()),
  'reading.taken': (slice, { body }, context) => {
    const sweep = findSweep(slice, body.sweepId);
    return sweep ? refuseReading(sweep.kind, body, context, ['body']) : noSweep();
  },
  'readings.imported': (_slice, { body }, context) => {
    for (const [i, { kind, readings }] of body.sweeps.entries())
      for (const [j, reading] of readings.entries()) {
        const refusal = refuseReading(kind, reading, context, ['body', 'sweeps', i, 'readings', j]);
        if (refusal) return refusal;
      }
    return null;
  },
  'reading.chosen': (slice, { body }) => {
    const sweep = findSweep(slice, body.sweepId);
    if (!sweep) return noSweep();
    const list = sweep.readings[body.quantity]?.get(keyAt(slice, body.place)) ?? [];
    return list.some((r) => r.commandId === body.commandId)
      ? null
      : refuse('gone', 'That reading is not there any more.', ['body', 'commandId']);
  },
} satisfies Chapter<SweepState, SweepAct>['decide'];

function noSweep(): Refusal {
  return refuse('gone', 'That sweep is not on this job; it may have been taken back.', ['body', 'sweepId']);
}

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
