import { readDecimal } from '@estuarine/core';

/** A figure that a form asks for, with what can be. */
export interface AskedFigure {
  /** As it is told where something is wrong, with its unit: `Charge, %`. */
  readonly name: string;
  readonly text: string;
  readonly least: number;
  readonly most: number;
  /** May be left empty: null then. */
  readonly isOptional?: boolean;
}

/** Figures as they were typed, in the order asked; or what is wrong with the first that does not fit, with its name. */
export function readAsked(asked: readonly AskedFigure[]): { readonly values: readonly (number | null)[] } | { readonly fault: string } {
  const values: (number | null)[] = [];
  for (const { name, text, least, most, isOptional } of asked) {
    if (text.trim() === '') {
      if (!isOptional) return { fault: `${name}: still to be said.` };
      values.push(null);
      continue;
    }
    const read = readDecimal(text);
    if (read.kind === 'refused') return { fault: `${name}: ${read.message}` };
    if (read.value < least || read.value > most) return { fault: `${name}: from ${least} to ${most}.` };
    values.push(read.value);
  }
  return { values };
}
