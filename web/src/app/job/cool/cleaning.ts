import type { CleaningSchool } from '@estuarine/core';

/** A way to clean, with its steps in order, what it takes and what it risks. Common practice, no source. */
export interface Cleaning {
  readonly name: string;
  readonly steps: readonly string[];
  readonly takes: string;
  readonly risk: string;
}

export const CLEANINGS: Record<CleaningSchool, Cleaning> = {
  dry: {
    name: 'dry: swabs and brushes',
    steps: [
      'Brush blade by blade from the hub out, vacuum beside the brush.',
      'Swab the corners of the housing.',
      'Turn it once round and look again.',
    ],
    takes: 'Swabs, a paint brush, a bottle brush, a vacuum, a mask.',
    risk: 'The foam seal stays whole; fine dust stays in the corners.',
  },
  air: {
    name: 'compressed air, housing open',
    steps: [
      'Order the housing seal first: opening may tear it.',
      'Open the housing, hold the wheel still.',
      'Blow from behind the blades, outdoors.',
      'New seal, and close it.',
    ],
    takes: 'Compressed air, a new housing seal, a mask, eye protection.',
    risk: 'A wheel that is blown round overruns its bearing; a torn seal lets warm air back.',
  },
  washed: {
    name: 'wheel washed, its motor off',
    steps: [
      'Take the motor off the wheel.',
      'Wash the wheel alone, mild soap.',
      'Dry it wholly, a day or warm air.',
      'Motor on again, turn it by hand.',
    ],
    takes: 'Soap, water, warm air, a mask while it is dry.',
    risk: 'Never wet a motor or a board; a wheel that is damp inside runs out of true.',
  },
  renewed: {
    name: 'a new one',
    steps: ['Held beside the old one: same size, same plug.', 'In, a filter with its tab the right way round.'],
    takes: 'The new part.',
    risk: 'One that only fits nearly lets air past it.',
  },
};
