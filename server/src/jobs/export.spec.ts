import { DEFAULT_POLICY, fold, NO_HASH, type Act, type JobEvent } from '@estuarine/core';
import { readShippedProfile } from '../seed/shop.ts';
import { planCsv, sweepsCsv } from './export.ts';

const profile = readShippedProfile('dunlin-28');
const moduleIds = Array.from({ length: 28 }, (_, i) => `m${i + 1}`);

function stateOf(...acts: Act[]) {
  const at = '2026-05-04T08:00:00.000Z';
  const opened: Act = {
    type: 'job.opened',
    body: {
      ...{ number: 1, kind: 'wholeRepair', profileId: profile.id, profileVersion: 1, policyVersion: 1, moduleIds },
      ...{ vehicle: { id: 'v', hash: NO_HASH }, customer: null, comebackOf: null },
    },
  };
  const events = [opened, ...acts].map((act, i): JobEvent => ({
    number: i + 1,
    commandId: `c${i + 1}`,
    by: 'om',
    at,
    deviceAt: at,
    ...act,
  }));
  return fold(profile, events);
}
const start: Act = {
  type: 'sweep.started',
  body: {
    kind: 'openCircuit',
    restSince: null,
    restHour: null,
    loadAmpere: null,
    loadSecond: null,
    recovered: 'all' as const,
    resolution: 0.001,
  },
};
const reading = (place: number, value: number): Act => ({
  type: 'reading.taken',
  body: { sweepId: 'c2', place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value },
});

describe('sweepsCsv', () => {
  it('writes every reading with what became of it', () => {
    const lines = sweepsCsv(stateOf(start, reading(3, 7.1), reading(3, 7.8), reading(4, -0.2))).split('\r\n');
    expect(lines).toHaveLength(4);
    expect(lines[1]).toMatch(/^c2,openCircuit,.*,3,m3,openCircuitVolt,7\.1,om,3,corrected$/);
    expect(lines[2]).toMatch(/,3,m3,openCircuitVolt,7\.8,om,4,counts$/);
    expect(lines[3]).toContain(',-0.2,');
  });
});

describe('planCsv', () => {
  it('says of each place where its module comes from, and defuses what a spreadsheet would run', () => {
    const body = { school: 'spotRepair', rangeAh: 0, lowerBoundAh: 0, proven: true, blockMeanAh: [], assumedPlaces: [] } as const;
    const ids = ['S1', 'm3', 'm2', ...moduleIds.slice(3)];
    const state = stateOf({
      type: 'plan.chosen',
      body: { ...body, moduleIds: ids, fromShelf: ['S1'], blockMeanAh: [], assumedPlaces: [] },
    });
    const lines = planCsv(state, profile, DEFAULT_POLICY).split('\r\n');
    expect(lines[0]).toBe('place,module,from,capacity / Ah,resistance / mohm,resting voltage / V');
    expect(lines.slice(1, 5)).toEqual(['1,S1,shelf,,,', '2,m3,from place 3,,,', '3,m2,from place 2,,,', '4,m4,stays,,,']);
    const { chosen } = state.plan;
    const evil = { ...state, plan: { chosen: chosen && { ...chosen, moduleIds: ['=1+1', ...ids.slice(1)], fromShelf: ['=1+1'] } } };
    expect(planCsv(evil, profile, DEFAULT_POLICY)).toContain("1,'=1+1,shelf");
  });
});
