import { readAsked, type AskedFigure } from './asked-figures.ts';

describe('figures that a form asks for', () => {
  const charge = (text: string, more: Partial<AskedFigure> = {}): AskedFigure => ({
    name: 'Charge, %',
    text,
    least: 0,
    most: 100,
    ...more,
  });
  it.each<[string, AskedFigure[], object]>([
    ['in order, a comma like a point', [charge('61,5'), charge(' 0 ')], { values: [61.5, 0] }],
    ['left empty where they may be', [charge('', { isOptional: true }), charge('100')], { values: [null, 100] }],
    ['not left empty where they may not', [charge('5'), charge(' ')], { fault: 'Charge, %: still to be said.' }],
    ['in their range', [charge('101')], { fault: 'Charge, %: from 0 to 100.' }],
    ['no lower', [charge('-1')], { fault: 'Charge, %: from 0 to 100.' }],
    ['as figures', [charge('half')], { fault: expect.stringContaining('Charge, %: ') as unknown }],
  ])('are read %s', (_what, asked, told) => expect(readAsked(asked)).toEqual(told));
});
