/** A copy of plain data with maps, deep: what is changed in it changes nothing elsewhere. */
export function copyPlain<T>(value: T): T {
  return copy(value) as T;
}

function copy(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) return value.map(copy);
  if (value instanceof Map) return new Map([...value].map(([key, held]) => [key, copy(held)]));
  const made: Record<string, unknown> = {};
  for (const key in value) made[key] = copy((value as Record<string, unknown>)[key]);
  return made;
}
