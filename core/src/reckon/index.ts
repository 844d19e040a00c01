/** The registry of calculations: one entry each, behind every door. */
import type { Entry } from './entry.ts';
import { COOLING } from './cooling.ts';
import { ISOLATING } from './isolating.ts';
import { JOINING } from './joining.ts';
import { LIFTING } from './lifting.ts';
import { MEASURING } from './measuring.ts';
import { STACKING } from './stacking.ts';
import { WEIGHING } from './weighing.ts';

export { GROUPS, type Entry, type Group } from './entry.ts';

/** All entries in name order. */
export const REGISTRY: readonly Entry[] = [...COOLING, ...ISOLATING, ...JOINING, ...LIFTING, ...MEASURING, ...STACKING, ...WEIGHING].sort(
  (a, b) => (a.name < b.name ? -1 : 1),
);

/** Entries in which every word stands somewhere: title, purpose, formula, source or name. */
export function findEntries(text: string): Entry[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  return REGISTRY.filter(({ name, title, group, purpose, formula, source }) => {
    const told = [name, title, group, purpose, formula, source].join(' ').toLowerCase();
    return words.every((w) => told.includes(w));
  });
}

/** The entry of a name, or undefined. */
export function findEntry(name: string): Entry | undefined {
  return REGISTRY.find((e) => e.name === name);
}
