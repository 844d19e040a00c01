/** What differs between two versions of a profile, field by field; things with an id are held against their like, wherever they stand. */
import type { Profile } from './profile.ts';

export interface ProfileChange {
  /** Names of fields, ids of things, indexes of the rest (from 0). */
  readonly path: readonly (string | number)[];
  /** Undefined: it was not there. */
  readonly before: unknown;
  /** Undefined: it is there no more. */
  readonly after: unknown;
}

/** Their own numbers differ by themselves. */
const LEFT_OUT: ReadonlySet<string> = new Set(['version', 'schemaVersion']);

/** In the order of the form. */
export function compareProfiles(before: Profile, after: Profile): ProfileChange[] {
  return compare(before, after, []).filter(({ path }) => !LEFT_OUT.has(String(path[0])));
}

function compare(before: unknown, after: unknown, path: readonly (string | number)[]): ProfileChange[] {
  if (isList(before) && isList(after)) return compareLists(before, after, path);
  if (isRecord(before) && isRecord(after)) {
    const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])];
    return keys.flatMap((key) => compare(before[key], after[key], [...path, key]));
  }
  return JSON.stringify(before) === JSON.stringify(after) ? [] : [{ path, before, after }];
}

function compareLists(before: readonly unknown[], after: readonly unknown[], path: readonly (string | number)[]): ProfileChange[] {
  const [old, now] = [byId(before), byId(after)];
  if (old && now) {
    const ids = [...new Set([...old.keys(), ...now.keys()])];
    return ids.flatMap((id) => compare(old.get(id), now.get(id), [...path, id]));
  }
  // a list of bare figures is one thing: fourteen changes say less than the two lists
  if (![...before, ...after].some(isRecord)) return JSON.stringify(before) === JSON.stringify(after) ? [] : [{ path, before, after }];
  return Array.from({ length: Math.max(before.length, after.length) }, (_, i) => compare(before[i], after[i], [...path, i])).flat();
}

/** Null where some have no id, or one stands twice. */
function byId(list: readonly unknown[]): Map<string, unknown> | null {
  const ids = list.map((item) => (isRecord(item) && typeof item.id === 'string' ? item.id : null));
  const found = new Map<string, unknown>();
  for (const [i, id] of ids.entries()) {
    if (id === null || found.has(id)) return null;
    found.set(id, list[i]);
  }
  return found;
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function isList(value: unknown): value is readonly unknown[] {
  return Array.isArray(value);
}
