/** A question to the Reckoner as it travels in a link, and as this device keeps the last one of each calculation. */

/** Longer ones are saved as JSON: not every program takes a longer address. */
const LONGEST_LINK = 4000;
/** All calculations together stay far below what a browser keeps. */
const LONGEST_KEPT = 20_000;

/** The address of a calculation with its question in it. */
export interface ReckonLink {
  readonly commands: readonly string[];
  readonly queryParams: { readonly in: string } | Record<string, never>;
}

/** Opens a calculation with what a number was computed from; without its question where that is too long for an address. */
export function linkTo(name: string, question: unknown): ReckonLink {
  const text = JSON.stringify(question);
  return { commands: ['/reckoner', name], queryParams: text.length <= LONGEST_LINK ? { in: text } : {} };
}

/** Null where it is too long for an address. */
export function addressOf(name: string, question: unknown, origin: string): string | null {
  const text = JSON.stringify(question);
  return text.length <= LONGEST_LINK ? `${origin}/reckoner/${encodeURIComponent(name)}?in=${encodeURIComponent(text)}` : null;
}

/** What an address or a store holds; undefined where it holds nothing that can be read. */
export function readQuestion(text: string | null | undefined): unknown {
  if (!text) return undefined;
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}

const keyOf = (name: string): string => `estuarine.reckon.${name}`;

export function keepQuestion(name: string, question: unknown): void {
  const text = JSON.stringify(question);
  if (text.length <= LONGEST_KEPT) localStorage.setItem(keyOf(name), text);
}

export function keptQuestion(name: string): unknown {
  return readQuestion(localStorage.getItem(keyOf(name)));
}

export function dropQuestion(name: string): void {
  localStorage.removeItem(keyOf(name));
}
