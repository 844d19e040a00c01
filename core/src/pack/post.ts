/** Posts of a string. `"7+"` is the plus post of module 7; modules count from 1 at the most negative end. */

/** A post as it is written everywhere: module number and sign. */
export type PostName = `${number}${'+' | '-'}`;

export function postName(module: number, sign: '+' | '-'): PostName {
  return `${module}${sign}`;
}

/** Module and sign of a post of a string of `moduleCount` modules, or null when there is no such post. */
export function readPost(name: string, moduleCount: number): { readonly module: number; readonly sign: '+' | '-' } | null {
  const match = /^(\d{1,5})([+-])$/.exec(name);
  const module = Number(match?.[1]);
  if (!match || module < 1 || module > moduleCount) return null;
  return { module, sign: match[2] as '+' | '-' };
}

/** Position along the string, 0 for `1-`, 1 for `1+`, 2 for `2-` … */
export function postIndex(module: number, sign: '+' | '-'): number {
  return 2 * (module - 1) + (sign === '+' ? 1 : 0);
}

export function postAt(index: number): PostName {
  return postName((index >> 1) + 1, index % 2 === 1 ? '+' : '-');
}
