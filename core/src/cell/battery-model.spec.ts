import { findCellVolt, PUBLISHED_PARAMETERS } from './battery-model.ts';

describe('findCellVolt', () => {
  it('is E0 - K + A when full and at rest', () => {
    const { E0, K, A } = PUBLISHED_PARAMETERS.nimh;
    expect(findCellVolt(PUBLISHED_PARAMETERS.nimh, 0, 0)).toEqual({ kind: 'answer', value: E0 - K + A });
  });
  it('agrees with the equation worked by hand: NiMH, 1.3 A, 2.6 Ah drawn', () => {
    // 1.2848 - 0.01875 * 6.5 / 3.9 + 0.144 * exp(-2.3077 * 2.6) - 0.0046 * 1.3 = 1.247928...
    const found = findCellVolt(PUBLISHED_PARAMETERS.nimh, 1.3, 2.6);
    expect(found.kind === 'answer' && found.value).toBeCloseTo(1.2848 - 0.03125 + 0.144 * 0.002478 - 0.00598, 5);
  });
  it('falls as charge is drawn and as current rises', () => {
    const at = (ampere: number, drawn: number): number => {
      const found = findCellVolt(PUBLISHED_PARAMETERS.liion, ampere, drawn);
      return found.kind === 'answer' ? found.value : NaN;
    };
    expect(at(0, 0.5)).toBeLessThan(at(0, 0.4));
    expect(at(1, 0.4)).toBeLessThan(at(0.5, 0.4));
  });
  it.each([1, 1.5])('refuses %d Ah out of 1 Ah, where the model has its pole', (drawn) => {
    expect(findCellVolt(PUBLISHED_PARAMETERS.liion, 0, drawn)).toMatchObject({
      kind: 'refused',
      code: 'impossible',
      path: ['ampereHourDrawn'],
    });
  });
});
