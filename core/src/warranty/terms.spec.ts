import { readTerms, sayCondition, TERMS_FORMAT, type SupplierTerms } from './terms.ts';

const TERMS: SupplierTerms = {
  ...{ format: TERMS_FORMAT, id: 'marsh', version: 2, supplier: 'Marsh', months: 24 },
  conditions: [{ kind: 'torqueBothPasses' }, { kind: 'oldReturned', withinDays: 14 }],
};
const said = (given: unknown): string => {
  const read = readTerms(JSON.stringify(given));
  return read.kind === 'refused' ? read.message : 'taken';
};

describe('a supplier’s file', () => {
  it('comes in as it is', () => expect(readTerms(JSON.stringify(TERMS))).toEqual({ kind: 'answer', value: TERMS }));

  it.each<[string, unknown, RegExp]>([
    ['another file', { format: 'something-else' }, /"format" is not/],
    ['a list', [1, 2], /no file of a supplier/],
    ['null', null, /no file of a supplier/],
    ['a condition that is not known', { ...TERMS, conditions: [{ kind: 'moonFull' }] }, /^conditions\.0/],
    ['days as a text', { ...TERMS, conditions: [{ kind: 'oldReturned', withinDays: '14' }] }, /^conditions\.0\.withinDays/],
    ['a condition twice', { ...TERMS, conditions: [{ kind: 'newNuts' }, { kind: 'newNuts' }] }, /Each condition once/],
    ['none at all', { ...TERMS, conditions: [] }, /^conditions/],
    ['a field too many', { ...TERMS, price: 3 }, /price/],
    ['an id with a slash', { ...TERMS, id: '../x' }, /^id/],
    ['a version of no integer', { ...TERMS, version: 2_147_483_648 }, /^version/],
  ])('is refused whole where it is %s', (_what, given, why) => {
    expect(said(given)).toMatch(why);
    expect(said(given)).toMatch(/Nothing was taken/);
  });

  it('that is no JSON says so', () => {
    expect(readTerms('PK\u0003\u0004')).toMatchObject({
      kind: 'refused',
      code: 'unreadable',
      message: expect.stringMatching(/no JSON/) as string,
    });
    expect(readTerms('')).toMatchObject({ kind: 'refused' });
  });

  it('is refused with the place as a path', () => {
    const odd = { ...TERMS, conditions: [{ kind: 'oldReturned', withinDays: 0 }] };
    expect(readTerms(JSON.stringify(odd))).toMatchObject({ code: 'unreadable', path: ['conditions', 0, 'withinDays'] });
    expect(readTerms('{"format":"x"}')).toMatchObject({ code: 'unreadable', path: ['format'] });
  });

  it('says each condition', () => {
    const kinds = ['orderKept', 'torqueBothPasses', 'barsRenewed', 'newNuts', 'coolingAnswered', 'scanKept'] as const;
    expect(kinds.map((kind) => sayCondition({ kind }))).toEqual([
      'Modules in the supplier’s own order',
      'Every terminal to its torque, in both passes',
      'Bus bars renewed',
      'New nuts on the bars',
      'Cooling cleaned and answered',
      'A scan after the road test, kept',
    ]);
    expect(sayCondition({ kind: 'oldReturned', withinDays: 14 })).toBe('Old ones returned within 14 days');
    expect(sayCondition({ kind: 'finishedWithin', days: 30 })).toBe('Finished within 30 days');
  });

  it('speaks of one photograph and of many', () => {
    expect(sayCondition({ kind: 'photographs', least: 1 })).toBe('1 photograph or more');
    expect(sayCondition({ kind: 'photographs', least: 8 })).toBe('8 photographs or more');
  });
});
