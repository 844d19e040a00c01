/** Where pieces lie between coming off and going back, and in which condition they came. */
import * as z from 'zod';

/** A cell of the tray, a column letter and a row number. */
export const TRAY = { columns: 'ABCDEFGH', rows: 6 } as const;

const cell = z.string().regex(/^[A-H][1-6]$/, 'a cell of the tray, such as B3');
const label = z.string().trim().min(1).max(40);

export const spotSchema = z.discriminatedUnion('kind', [
  /** Where it belongs, in vehicle or pack. */
  z.strictObject({ kind: z.literal('inPlace') }),
  z.strictObject({ kind: z.literal('tray'), cell }),
  z.strictObject({ kind: z.literal('bag'), label }),
  /** Kept with the part that it held. */
  z.strictObject({ kind: z.literal('onPart') }),
  /** Parked back on its stud. */
  z.strictObject({ kind: z.literal('stud') }),
  z.strictObject({ kind: z.literal('scrapped') }),
  /** Was not there on arrival. */
  z.strictObject({ kind: z.literal('absent') }),
  /** New ones, bought or from the shelf. */
  z.strictObject({ kind: z.literal('new') }),
]);
export type Spot = z.infer<typeof spotSchema>;

export const CONDITIONS = ['good', 'corroded', 'stripped', 'broken', 'added'] as const;
/** `added`: put in by an earlier hand, not of this place. */
export type Condition = (typeof CONDITIONS)[number];

export const CONDITION_NAMES: Record<Condition, string> = {
  good: 'good',
  corroded: 'corroded',
  stripped: 'stripped',
  broken: 'broken',
  added: 'added by an earlier hand',
};

/** A spot as a short text, also its key. */
export function spotKey(spot: Spot): string {
  if (spot.kind === 'tray') return `tray:${spot.cell}`;
  return spot.kind === 'bag' ? `bag:${spot.label}` : spot.kind;
}

/** A spot as a person says it. */
export function spotName(spot: Spot): string {
  switch (spot.kind) {
    case 'inPlace':
      return 'in place';
    case 'tray':
      return `tray ${spot.cell}`;
    case 'bag':
      return `bag "${spot.label}"`;
    case 'onPart':
      return 'on its part';
    case 'stud':
      return 'parked on its stud';
    case 'scrapped':
      return 'scrapped';
    case 'absent':
      return 'missing on arrival';
    case 'new':
      return 'new';
  }
}

/** Whether pieces there are at hand to go back. */
export function isAtHand(spot: Spot): boolean {
  return spot.kind === 'tray' || spot.kind === 'bag' || spot.kind === 'onPart' || spot.kind === 'stud';
}

/** Whether a piece of this condition goes back: a stripped or broken one is replaced, one of an earlier hand is not of this place. */
export function isFit(condition: Condition): boolean {
  return condition === 'good' || condition === 'corroded';
}
