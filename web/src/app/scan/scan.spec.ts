import { KeyBurst } from './hand-scanner.ts';
import { readModuleCode, writeModuleCode } from './module-code.ts';

describe('the code of a module', () => {
  it('is read as it was written, with space around it, and nothing else is', () => {
    expect(readModuleCode(` ${writeModuleCode('07-03')}\n`)).toBe('07-03');
    for (const text of ['07-03', '#estuarine/module/', '#estuarine/module/../x', 'https://example.org/07-03', '#estuarine/job/1'])
      expect(readModuleCode(text)).toBeNull();
  });
});

describe('a hand scanner', () => {
  const type = (text: string, gap: number, from = 0) => {
    const burst = new KeyBurst();
    return [...Array.from(text), 'Enter'].map((key, i) => burst.take(key, from + i * gap));
  };

  it('is told from fingers by its speed, and its keys are kept from fields and shortcuts', () => {
    const taken = type('#estuarine/module/S042', 8);
    expect(taken.at(-1)).toEqual({ isOurs: true, code: '#estuarine/module/S042' });
    expect(taken.slice(1).every((t) => t.isOurs)).toBe(true);
  });

  it('takes nothing from somebody who types the same by hand, or from fast keys that begin otherwise', () => {
    expect(type('#estuarine/module/S042', 120).every((t) => !t.isOurs && t.code === null)).toBe(true);
    expect(type('7.812', 5).every((t) => !t.isOurs && t.code === null)).toBe(true);
  });

  it('passes over the Shift between the letters', () => {
    const burst = new KeyBurst();
    let at = 0;
    for (const key of ['#', 'Shift', 'A', 'b']) burst.take(key, (at += 5));
    expect(burst.take('Enter', at + 5).code).toBe('#Ab');
  });
});
