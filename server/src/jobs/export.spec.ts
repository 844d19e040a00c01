import { DEFAULT_POLICY, type Act } from '@estuarine/core';
import { moduleIds, profile, stateOf } from '../../test/job-state.ts';
import { planCsv, sweepsCsv, torqueCsv } from './export.ts';

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

describe('torqueCsv', () => {
  it('writes every fastener as it was tightened: what was asked, set and shown, by which tool', () => {
    const part = profile.parts.find((p) => p.torque && p.count);
    if (!part?.torque) throw new Error('no part with a torque');
    const tighten = (newtonMetre: number | null, pass: 1 | 2): Act => ({
      type: 'fastener.torqued',
      body: { settingId: 'c2', partId: part.id, seat: 1, pass, newtonMetre },
    });
    const set: Act = {
      type: 'torque.set',
      body: { partId: part.id, toolId: 'T-01', reads: 'figure', setNewtonMetre: 5.4, toolLabel: 'one' },
    };
    const lines = torqueCsv(stateOf(set, tighten(5.35, 1), tighten(null, 2), { ...tighten(1, 1), body: { settingId: 'none', partId: 'none', seat: 2, pass: 1, newtonMetre: 1 } } as Act), profile).split('\r\n'); // prettier-ignore
    expect(lines[0]).toBe('part,name,seat,pass,asked / Nm,set / Nm,shown / Nm,tool,by,at,event');
    const asked = part.torque.newtonMetre;
    expect(lines[1]).toBe(`${part.id},${part.name},1,1,${asked},5.4,5.35,T-01,om,2026-05-04T08:02:00.000Z,3`);
    expect(lines[2]).toBe(`${part.id},${part.name},1,2,${asked},5.4,,T-01,om,2026-05-04T08:03:00.000Z,4`);
    expect(lines[3]).toBe('none,,2,1,,,1,,om,2026-05-04T08:04:00.000Z,5');
  });
});
