import { sayPath, blankOf, inWords, kindOf, nameOf, readNumbers, readRows, unwrap, variantsOf, type JsonSchema } from './schema.ts';

const number: JsonSchema = { type: 'number' };

describe('what a field is', () => {
  it.each<[JsonSchema, string]>([
    [number, 'number'],
    [{ anyOf: [{ type: 'integer' }, { type: 'null' }] }, 'number'],
    [{ type: 'string', enum: ['a', 'b'] }, 'choice'],
    [{ type: 'array', items: number }, 'numbers'],
    [{ type: 'array', items: { type: 'array', prefixItems: [number, number, number] } }, 'rows'],
    [{ type: 'array', items: { type: 'array', items: number } }, 'rows'],
    [{ type: 'array', items: { type: 'object', properties: { a: number } } }, 'list'],
    [{ oneOf: [{ type: 'object', properties: { kind: { const: 'x' } } }] }, 'variant'],
    [{ const: 2 }, 'fixed'],
    [{ type: 'boolean' }, 'flag'],
  ])('%j is %s', (schema, kind) => expect(kindOf(schema)).toBe(kind));

  it('takes null apart', () => {
    expect(unwrap({ anyOf: [number, { type: 'null' }] })).toEqual({ schema: number, isNullable: true });
    expect(unwrap(number)).toEqual({ schema: number, isNullable: false });
  });
});

it('begins with what is required, defaults first', () => {
  const schema: JsonSchema = {
    type: 'object',
    properties: {
      name: { type: 'string' },
      count: { type: 'integer', default: 3 },
      list: { type: 'array', items: number },
      maybe: number,
      kind: { oneOf: [{ type: 'object', properties: { kind: { const: 'plug' }, isIn: { type: 'boolean' } }, required: ['kind', 'isIn'] }] },
    },
    required: ['name', 'count', 'list', 'kind'],
  };
  expect(blankOf(schema)).toEqual({ name: '', count: 3, list: [], kind: { kind: 'plug', isIn: false } });
});

it('tells variants apart by their constant', () => {
  const schema: JsonSchema = { oneOf: [{ properties: { kind: { const: 'a' } } }, { properties: { kind: { const: 'b' } } }] };
  expect(variantsOf(schema).map((v) => [v.key, v.name])).toEqual([
    ['kind', 'a'],
    ['kind', 'b'],
  ]);
});

it.each([
  ['wantedNewtonMetre', { words: 'wanted', unit: 'N·m' }],
  ['modulesFromNegative', { words: 'modules from negative', unit: '' }],
  ['volt', { words: 'volt', unit: 'V' }],
  ['ohmPerVolt', { words: 'ohm per volt', unit: 'Ω/V' }],
  ['minCapacityAh', { words: 'min capacity', unit: 'Ah' }],
])('%s is said as it is', (key, name) => expect(nameOf(key)).toEqual(name));

it('reads numbers however they are pasted, and says when one is none', () => {
  expect(readNumbers('7,81 7.82;\n7.83')).toEqual([7.81, 7.82, 7.83]);
  expect(readNumbers('7.81 x')).toBeNull();
  expect(readNumbers('')).toEqual([]);
  expect(readRows('0 1 8\n3600 1 7\n')).toEqual([[0, 1, 8], [3600, 1, 7]]); // prettier-ignore
  expect(readRows('0 1\n1.2.3 4')).toBeNull();
});

it.each([
  ['twelveVoltFirst', 'twelve volt first'],
  ['III', 'III'],
  ['nimh', 'nimh'],
  ['00', '00'],
])('says the choice %s as %s', (choice, words) => expect(inWords(choice)).toBe(words));

it('says the place of a field in words, rows counted from 1', () => {
  expect(sayPath(['pool', 2, 'capacityAh'])).toBe('pool › 3 › capacity, Ah');
  expect(sayPath([])).toBe('');
});

it('says a span of time by what it leads to', () => {
  expect(nameOf('secondsToLimit')).toEqual({ words: 'time to limit', unit: 's' });
  expect(nameOf('monthsToNext')).toEqual({ words: 'time to next', unit: 'months' });
  expect(nameOf('monthsSinceClean')).toEqual({ words: 'time since clean', unit: 'months' });
});
