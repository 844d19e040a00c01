import { refuse } from '../../../result.ts';
import type { Effect } from '../../../pack/effect.ts';
import { blockPlaces } from '../../../pack/profile.ts';
import type { Chapter } from '../table.ts';
import { REFIT, type RefitAct } from './acts.ts';
import type { RefitState } from './state.ts';

type Scanned = Extract<RefitAct, { type: 'car.scanned' }>['body'];

const CHARGED: Effect = { kind: 'charged', by: 'said' };

/** A car that answers has its 12 V on; codes as they were found are often brought in long after they were read. */
function effectsOfScan({ moment, packVolt, ampere, blockVolts }: Scanned, blocks: readonly number[], moduleCount: number): Effect[] {
  const places = blockPlaces(blocks);
  const measured = blockVolts.flatMap((volt, i): Effect[] => {
    const place = places[i];
    return volt === null || !place ? [] : [{ kind: 'measured', ...place, volt: Math.abs(volt) }];
  });
  if (packVolt !== null) measured.push({ kind: 'measured', from: 1, to: moduleCount, volt: Math.abs(packVolt) });
  const isAwake = moment !== 'asFound' || measured.length > 0 || ampere !== null;
  return isAwake ? [{ kind: 'energised', seen: 'The car was scanned' }, ...measured] : [];
}

/** The chapter of refit and wake. */
export const refit: Chapter<RefitState, typeof REFIT> = {
  table: REFIT,
  start: () => ({ touched: 0, lifted: 0, bared: 0 }),
  fold: {},
  effects: {
    'spark.seen': () => [{ kind: 'energised', seen: 'The 12 V was touched to its post' }],
    'wake.tried': ({ body }) => [{ kind: 'energised', seen: 'The car was woken' }, ...(body.charging === 'takes' ? [CHARGED] : [])],
    'car.scanned': ({ body }, { blocks, moduleCount }) => effectsOfScan(body, blocks, moduleCount),
    'codes.cleared': () => [{ kind: 'energised', seen: 'Codes were cleared in the car' }],
    'drain.measured': () => [{ kind: 'energised', seen: 'The pack was drained in the car' }],
    'road.driven': () => [{ kind: 'energised', seen: 'The car was driven' }, CHARGED],
    'energy.lent': () => [{ kind: 'energised', seen: 'Energy was lent to the pack' }, CHARGED],
  },
  decide: {
    'group.tightened': (_slice, { body }, { profile }) =>
      profile.parts.some((p) => p.id === body.partId)
        ? null
        : refuse('unknownName', `The profile has no part "${body.partId}".`, ['body', 'partId']),
    'car.scanned': (_slice, { body }, { profile }) =>
      body.blockVolts.length === 0 || body.blockVolts.length === profile.blocks.length
        ? null
        : refuse('mismatch', `The pack has ${profile.blocks.length} blocks, the scan ${body.blockVolts.length}.`, ['body', 'blockVolts']),
    'drain.measured': (_slice, { body }, { profile }) =>
      body.endsAtBlock <= profile.blocks.length
        ? null
        : refuse('unknownName', `The pack has ${profile.blocks.length} blocks, none of number ${body.endsAtBlock}.`, [
            'body',
            'endsAtBlock',
          ]),
  },
  hears: ['touched', 'moved', 'bared'],
  hear: (slice, effect, { number }) => {
    // a late word still says that somebody was at it
    if (effect.kind === 'touched' && effect.what !== 'key') slice.touched = number;
    if (effect.kind === 'bared' && effect.what === 'carSide' && effect.how !== 'closed') slice.bared = number;
    if (effect.kind === 'moved' && effect.what === 'pack' && !effect.isOnBench) slice.lifted = number;
  },
};
