import type { Sweep } from '@estuarine/core';
import { testProfile } from '../../../test/profile.ts';
import { findOpenSlot, listSlots, readOptional, readTyped } from './sweep-walk.ts';

const type = testProfile().moduleType;
const reading = { commandId: 'c', value: 7.8, by: 'om', number: 1, place: 1, saidAt: 0, keptAt: 0, device: null };
const keys = ['m1', 'm2', 'm3', 'm4'];
const sweep = (places: number[]): Sweep => ({
  ...{ id: 's', kind: 'openCircuit', by: 'om', startedAt: '', endedAt: null, restSince: null, restHour: null },
  ...{
    loadAmpere: null,
    loadSecond: null,
    recovered: 'all' as const,
    resolution: null,
    fileName: null,
    chosen: new Map(),
    confirmed: new Map(),
    aside: new Map(),
  },
  readings: { openCircuitVolt: new Map(places.map((p) => [`m${p}`, [reading]])) },
});

describe('listSlots', () => {
  const under = (place: number) => ({ place, quantity: 'loadVolt' });
  const recovered = (place: number) => ({ place, quantity: 'recoveredVolt' });
  it('asks under load and recovered of one module before the next', () => {
    expect(listSlots({ kind: 'load', recovered: 'all' }, 2)).toEqual([under(1), recovered(1), under(2), recovered(2)]);
  });
  it('asks recovered of none, or last of those that stand apart', () => {
    expect(listSlots({ kind: 'load', recovered: 'none' }, 2, [2])).toEqual([under(1), under(2)]);
    expect(listSlots({ kind: 'load', recovered: 'standApart' }, 2, [2])).toEqual([under(1), under(2), recovered(2)]);
    expect(listSlots({ kind: 'openCircuit', recovered: 'standApart' }, 1, [1])).toEqual([{ place: 1, quantity: 'openCircuitVolt' }]);
  });
});

describe('findOpenSlot', () => {
  const slots = listSlots({ kind: 'openCircuit', recovered: 'all' }, 4);
  it('goes on to the next without a reading, then back to what was skipped, then stays', () => {
    expect(findOpenSlot(slots, sweep([1, 2]), keys, 1)).toBe(2);
    expect(findOpenSlot(slots, sweep([1, 3, 4]), keys, 3)).toBe(1);
    expect(findOpenSlot(slots, sweep([1, 2, 3, 4]), keys, 4)).toBe(3);
  });
  it('comes back to one whose reading was another module’s', () => {
    const slipped = { ...sweep([1, 2, 3, 4]), aside: new Map([['openCircuitVolt:m2', 'c']]) };
    expect(findOpenSlot(slots, slipped, keys, 3)).toBe(1);
  });
});

describe('readTyped', () => {
  it('takes a decimal comma', () => {
    expect(readTyped('7,845', 'openCircuitVolt', type, null)).toEqual({ kind: 'value', value: 7.845 });
  });
  it('does nothing on empty', () => {
    expect(readTyped(' ', 'openCircuitVolt', type, null)).toEqual({ kind: 'nothing' });
  });
  it('asks once about a value outside the likely range, then takes it', () => {
    expect(readTyped('11.5', 'openCircuitVolt', type, null)).toMatchObject({
      kind: 'ask',
      question: expect.stringContaining('5.76 to 9.6 V'),
    });
    expect(readTyped('11.5', 'openCircuitVolt', type, '11.5')).toEqual({ kind: 'value', value: 11.5 });
    expect(readTyped('11.6', 'openCircuitVolt', type, '11.5')).toMatchObject({ kind: 'ask' });
  });
  it('refuses what no module can read, and says what was probably meant', () => {
    expect(readTyped('7505', 'openCircuitVolt', type, null)).toMatchObject({
      kind: 'refused',
      reason: expect.stringContaining('Did you mean 7.505 V?'),
    });
    expect(readTyped('7505', 'openCircuitVolt', type, '7505')).toMatchObject({ kind: 'refused' });
    expect(readTyped('-1', 'resistanceMilliohm', type, null)).toMatchObject({ kind: 'refused' });
  });
  it('refuses grouped thousands with the reason', () => {
    expect(readTyped('1.234,5', 'capacityAh', type, null)).toMatchObject({ kind: 'refused', reason: expect.stringContaining('thousands') });
  });
});

describe('readOptional', () => {
  it.each([
    ['', null],
    [' 20,5 ', 20.5],
    ['0', undefined],
    ['-3', undefined],
    ['twenty', undefined],
  ])('reads %j', (text, value) => {
    expect(readOptional(text)).toBe(value);
  });
});
