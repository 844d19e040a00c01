import { AIR_WORD_NAMES, wordsOf } from '../../../cool/air-words.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { DecideContext } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { COOL } from './acts.ts';
import type { CoolState } from './state.ts';

/** The chapter of cooling. */
export const cool: Chapter<CoolState, typeof COOL> = {
  table: COOL,
  start: () => ({}),
  fold: {},
  effects: {},
  decide: {
    'air.found': (_slice, { body }, context) => refusePart(body.part, context),
    'air.cleaned': (_slice, { body }, context) => refusePart(body.part, context),
    'air.told': (_slice, { body }, context) => refusePart(body.part, context) ?? refuseWord(body, context),
    'fan.tested': (_slice, { body }, context) => refuseNoFan(body.part, context),
    'fan.measured': (_slice, { body }, context) => refuseNoFan(body.part, context),
  },
  hears: [],
};

function refusePart(part: number, { profile }: DecideContext): Refusal | null {
  return part < profile.airPath.length
    ? null
    : refuse('unknownName', `The air path has ${profile.airPath.length} parts, none of number ${part}.`, ['body', 'part']);
}

function refuseWord(
  { part, word }: { readonly part: number; readonly word: keyof typeof AIR_WORD_NAMES },
  context: DecideContext,
): Refusal | null {
  const at = context.profile.airPath[part];
  if (!at || wordsOf(at.kind).includes(word)) return null;
  return refuse('mismatch', `"${AIR_WORD_NAMES[word]}" is said of no part like ${at.name}.`, ['body', 'word']);
}

function refuseNoFan(part: number, context: DecideContext): Refusal | null {
  const at = context.profile.airPath[part];
  return refusePart(part, context) ?? (at?.kind === 'fan' ? null : refuse('mismatch', `${at?.name} is no fan.`, ['body', 'part']));
}
