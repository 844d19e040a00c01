import { sayFigure } from './say-figure.ts';

const said = (value: number, unit: string, isShare = false): string => {
  const { text, unit: in_ } = sayFigure(value, unit, isShare);
  return `${text} ${in_}`;
};

describe('a figure', () => {
  it('has the digits that an instrument gives, and no empty ones', () => {
    expect(said(7.812_345, 'V')).toBe('7.812 V');
    expect(said(21.000_04, 'mV')).toBe('21 mV');
    expect(said(14.2, 'N·m')).toBe('14.2 N·m');
    expect(said(3, 'months')).toBe('3 months');
    expect(said(0.123_456_7, '')).toBe('0.1235 ');
  });

  it('is spoken in the unit that fits its size', () => {
    expect(said(1_234_567, 'Ω')).toBe('1.235 MΩ');
    expect(said(100_000, 'Ω')).toBe('100 kΩ');
    expect(said(12_345.6, 'N')).toBe('12.35 kN');
    expect(said(0.25, '', true)).toBe('25 %');
    expect(said(599.6, 's')).toBe('600 s, or 10:00 min');
    expect(said(41.26, 's')).toBe('41.3 s');
  });

  it('is never said as nothing while there is something', () => {
    expect(said(0.000_04, 'V')).toBe('0.00004 V');
    expect(said(0, 'V')).toBe('0 V');
  });
});
