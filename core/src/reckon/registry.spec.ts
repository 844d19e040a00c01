import { findEntry, REGISTRY } from './index.ts';

/** One good question for each calculation. */
const QUESTIONS: Record<string, unknown> = {
  'isolate.discharge': { capacitanceMicrofarad: 1000, resistanceOhm: 3e5, startVolt: 216, limitVolt: 60 },
  'isolate.fitDecay': { readings: [210, 160, 120].map((volt, i) => ({ second: 60 * i, volt })), limitVolt: 30 },
  'isolate.insulation': { packVolt: 200, higherVolt: 120, withResistorVolt: 80, resistorOhm: 1e5 },
  'isolate.faultPlace': { moduleCount: 28, negativeToChassisVolt: 60, positiveToChassisVolt: 150 },
  'torque.convert': { value: 50, unit: 'lbfin' },
  'torque.extension': { wantedNewtonMetre: 6, wrenchLengthMillimetre: 200, extensionMillimetre: 50 },
  'stats.outliers': { values: [1, 2, 3, 50].map((value, i) => ({ id: String(i), value })) },
  'reading.resistance': { first: { ampere: 0, volt: 8 }, second: { ampere: 10, volt: 7.75 } },
  'reading.capacity': { samples: [[0, 1, 8], [3600, 1, 7]], cutoffVolt: 6 }, // prettier-ignore
  'reading.scanBlocks': { blocks: [{ id: 'a', volt: 15, modules: 2 }, { id: 'b', volt: 15.1, modules: 2 }] }, // prettier-ignore
  'cell.voltage': { chemistry: 'nimh', ampere: 0, ampereHourDrawn: 1 },
  'pack.exposure': { moduleVolts: [7, 8], openLinks: [1], moduleMilliohms: [20, 20] },
  'pack.cuts': { moduleVolts: [7, 8, 9], limitVolt: 16 },
  'match.select': { pool: [{ id: 'a', capacityAh: 5, resistanceMilliohm: 20 }], count: 1, objective: 'balanced' },
  'match.arrange': { modules: [{ id: 'a', capacityAh: 5, resistanceMilliohm: 20 }], blockSizes: [1] },
  'match.repair': {
    survivors: [{ id: 'a', place: 1, capacityAh: 5, resistanceMilliohm: 20 }],
    rejects: [{ id: 'b', place: 2, capacityAh: 2 }],
    shelf: [{ id: 'c', capacityAh: 5, resistanceMilliohm: 21 }],
    blockSizes: [2],
  },
};

describe('the registry', () => {
  it('has a question here for every entry, and no other', () => {
    expect(Object.keys(QUESTIONS).sort()).toEqual(REGISTRY.map((e) => e.name));
  });

  it.each(REGISTRY.map((e) => e.name))('%s answers as its schema says', (name) => {
    const entry = findEntry(name);
    const result = entry?.run(QUESTIONS[name]);
    if (result?.kind !== 'answer') throw new Error(result?.message);
    expect(entry?.output.safeParse(result.value)).toMatchObject({ success: true });
  });

  it.each(REGISTRY.map((e) => e.name))('%s refuses a wrong type, a field too many and nothing at all, with a path', (name) => {
    const entry = findEntry(name);
    expect(entry?.run(undefined)).toMatchObject({ kind: 'refused' });
    expect(entry?.run({ ...(QUESTIONS[name] as object), surplus: 1 })).toMatchObject({ kind: 'refused' });
    const first = Object.keys(QUESTIONS[name] as object)[0] ?? '';
    expect(entry?.run({ ...(QUESTIONS[name] as object), [first]: { not: 'this' } })).toMatchObject({
      kind: 'refused',
      path: expect.arrayContaining([first]),
    });
  });

  it('asks for a chemistry or parameters, not both', () => {
    const parameters = { E0: 1, R: 0.01, K: 0.01, A: 0.1, B: 2, Q: 5 };
    expect(findEntry('cell.voltage')?.run({ parameters, ampere: 0, ampereHourDrawn: 0 })).toMatchObject({ kind: 'answer' });
    expect(findEntry('cell.voltage')?.run({ chemistry: 'nimh', parameters, ampere: 0, ampereHourDrawn: 0 })).toMatchObject({
      path: ['chemistry'],
    });
  });
});
