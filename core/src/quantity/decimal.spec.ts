import { readDecimal, roundTo } from './decimal.ts';

describe('readDecimal', () => {
  it.each([
    ['7.845', 7.845],
    ['7,845', 7.845],
    [' 7 ', 7],
    ['\u22120,5', -0.5],
    ['.5', 0.5],
    ['1e-3', 0.001],
  ])('reads %j', (text, value) => {
    expect(readDecimal(text)).toEqual({ kind: 'answer', value });
  });

  it.each(['1.234,5', '1,234.5', '1 234.5', '7.8x', 'seven', '0x10', '7..8', 'Infinity', 'NaN'])('refuses %j', (text) => {
    expect(readDecimal(text)).toMatchObject({ kind: 'refused', code: 'unreadable' });
  });

  it('says that thousands are grouped, since 1.234 V and 1234 V must never be mistaken', () => {
    expect(readDecimal('1.234,5')).toMatchObject({ message: expect.stringContaining('groups its thousands') });
  });

  it('refuses blank text as empty', () => {
    expect(readDecimal('  ')).toMatchObject({ kind: 'refused', code: 'empty' });
  });
});

describe('roundTo', () => {
  it('takes false digits out of a difference', () => {
    expect(roundTo(7.845 - 7.83, 1e-5)).toBeCloseTo(0.015, 12);
  });
});
