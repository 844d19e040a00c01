import { contextOf, profile, Recorder } from '../../../../test/job-fixture.ts';
import type { DecideContext } from '../chapter.ts';
import type { Act, ActBody } from '../../frame/acts.ts';
import { decide } from '../../frame/decide.ts';
import { moduleIdsOf } from '../../frame/state.ts';

/** What a client says of its plan, all of it wrong. */
const FALSE = { rangeAh: 0.0001, lowerBoundAh: 0.0001, proven: true, blockMeanAh: [9, 9], assumedPlaces: [2] };

const capacityOf = (place: number): number => 5.2 + place / 100;

/** A job whose modules were measured, but those of some places. */
function measured(without: readonly number[] = []): Recorder {
  const job = new Recorder().open();
  const sweepId = job.startSweep('capacity');
  for (let place = 1; place <= profile.moduleCount; place++)
    if (!without.includes(place))
      job.add({
        type: 'reading.taken',
        body: { sweepId, place, moduleId: `m${place}`, quantity: 'capacityAh', value: capacityOf(place) },
      });
  return job;
}

function choose(job: Recorder, plan: Partial<ActBody<'plan.chosen'>> = {}, context: Partial<DecideContext> = {}): ActBody<'plan.chosen'> {
  const body: ActBody<'plan.chosen'> = { school: 'matchedSet', moduleIds: [...moduleIdsOf(job.state())], fromShelf: [], ...FALSE, ...plan };
  const act: Act = { type: 'plan.chosen', body };
  const decided = decide(job.state(), act, contextOf(job, context));
  if (decided.kind === 'refused') throw new Error(decided.message);
  const [kept] = decided.value;
  if (kept?.type !== 'plan.chosen') throw new Error('not chosen');
  return kept.body;
}

describe('the figures of a chosen plan', () => {
  it('are computed from what was measured, whatever was sent', () => {
    const { blockMeanAh, rangeAh, proven, lowerBoundAh, assumedPlaces } = choose(measured());
    // blocks of two in place order: means 5.215, 5.235 … 5.475
    expect(blockMeanAh).toHaveLength(14);
    for (const [i, mean] of blockMeanAh.entries()) expect(mean).toBeCloseTo((capacityOf(2 * i + 1) + capacityOf(2 * i + 2)) / 2, 9);
    expect(rangeAh).toBeCloseTo(0.26, 9);
    expect({ proven, lowerBoundAh, assumedPlaces }).toEqual({ proven: false, lowerBoundAh: null, assumedPlaces: [] });
  });

  it('are proven by the bound that was computed here, and not where a closer arrangement was found possible', () => {
    const reached = choose(measured(), {}, { provenRange: () => 0.26 });
    expect(reached).toMatchObject({ proven: true, lowerBoundAh: 0.26 });
    expect(choose(measured(), {}, { provenRange: () => 0.2 })).toMatchObject({ proven: false, lowerBoundAh: 0.2 });
  });

  it('claim no proof over a capacity that was assumed, and say of which place', () => {
    const kept = choose(measured([3, 8]), {}, { provenRange: () => 0 });
    expect(kept).toMatchObject({ proven: false, lowerBoundAh: null, assumedPlaces: [3, 8] });
  });

  it('stand on the nominal capacity where none was measured', () => {
    const kept = choose(new Recorder().open(), {}, { provenRange: () => 0 });
    expect(kept.blockMeanAh[0]).toBe(profile.moduleType.nominalCapacityAh);
    expect(kept).toMatchObject({ rangeAh: 0, proven: false });
    expect(kept.assumedPlaces).toHaveLength(profile.moduleCount);
  });

  it('take what the shelf knows of a spare, and ask about it by its own name', () => {
    const asked: string[] = [];
    const job = measured();
    const spare = { moduleIds: ['S-7', ...moduleIdsOf(job.state()).slice(1)], fromShelf: ['S-7'] };
    const kept = choose(job, spare, { shelfCapacityAh: (id) => (asked.push(id), 5.8) });
    expect(asked).toEqual(['S-7']);
    expect(kept.blockMeanAh[0]).toBeCloseTo((5.8 + capacityOf(2)) / 2, 9);
    expect(choose(job, spare, { shelfCapacityAh: () => null }).assumedPlaces).toEqual([1]);
  });

  it('of an exchange pack are none', () => {
    const kept = choose(measured(), { school: 'exchangePack', moduleIds: [], fromShelf: [] });
    expect(kept).toMatchObject({ rangeAh: null, lowerBoundAh: null, proven: false, blockMeanAh: [], assumedPlaces: [] });
  });
});
