import { AIR_WORD_NAMES, wordsOf } from '../../../cool/air-words.ts';
import { refuse, type Refusal } from '../../../result.ts';
import { keptOf, type DecideContext, type Decided } from '../chapter.ts';
import type { COOL_TRAITS, CoolAct } from './acts.ts';
import type { CoolState } from './state.ts';

/** The chapter of cooling. */
export const cool: Decided<CoolState, CoolAct, typeof COOL_TRAITS> = {
  start: () => ({ found: [], told: [], returned: [], driven: [], cleaned: [], checked: [], fans: [], curves: [], judged: [], looks: [] }),
  fold: {
    'air.found': (slice, event) => void slice.found.push(keptOf(event)),
    'air.told': (slice, event) => void slice.told.push(keptOf(event)),
    'air.returned': (slice, event) => void slice.returned.push(keptOf(event)),
    'air.driven': (slice, event) => void slice.driven.push(keptOf(event)),
    'air.cleaned': (slice, event) => void slice.cleaned.push(keptOf(event)),
    'air.checked': (slice, event) => void slice.checked.push(keptOf(event)),
    'fan.tested': (slice, event) => void slice.fans.push(keptOf(event)),
    'fan.measured': (slice, event) => void slice.curves.push(keptOf(event)),
    'cooling.judged': (slice, event) => void slice.judged.push(keptOf(event)),
    'look.set': (slice, event) => void slice.looks.push(keptOf(event)),
  },
  decide: {
    'air.found': (_slice, { body }, context) => refusePart(body.part, context),
    'air.cleaned': (_slice, { body }, context) => refusePart(body.part, context),
    'air.told': (_slice, { body }, context) => refusePart(body.part, context) ?? refuseWord(body, context),
    'fan.tested': (_slice, { body }, context) => refuseNoFan(body.part, context),
    'fan.measured': (_slice, { body }, context) => refuseNoFan(body.part, context),
  },
  hears: [],
  withdraw: (slice, commandId) => {
    for (const list of Object.values(slice)) {
      const at = list.findIndex((x) => x.commandId === commandId);
      if (at >= 0) list.splice(at, 1);
    }
  },
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
