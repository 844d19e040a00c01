import { findInstead } from './instead.ts';

const module = (id: string, capacityAh: number | null, resistanceMilliohm: number | null = 27) => ({ id, capacityAh, resistanceMilliohm });

it('takes the nearest by the figures that the lost one has, ties by id', () => {
  const shelf = [module('C', 6.1), module('B', 5.9), module('A', 6.4), module('D', 5.0, 40)];
  expect(findInstead(module('X', 6), shelf)).toMatchObject({ id: 'B', by: ['capacityAh', 'resistanceMilliohm'] });
  expect(findInstead(module('X', 5.05, 39), shelf)?.id).toBe('D');
  expect(findInstead(module('X', null, null), shelf)).toMatchObject({ id: 'A', distance: 0, by: [] });
});
it('never takes itself, nor one whose figure nobody measured', () => {
  expect(findInstead(module('X', 6), [module('X', 6), module('Y', null)])).toBeNull();
  expect(findInstead(module('X', 6), [])).toBeNull();
});
