import { refuse, type Refusal } from '../../../result.ts';
import { keptOf, type DecideContext, type Decided } from '../chapter.ts';
import type { COOL_TRAITS, CoolAct } from './acts.ts';
import type { CoolState } from './state.ts';

/** The chapter of cooling. */
export const cool: Decided<CoolState, CoolAct, typeof COOL_TRAITS> = {
  start: () => ({ found: [], cleaned: [], fans: [], judged: [], looks: [] }),
  fold: {
    'air.found': (slice, event) => {
      slice.found.push(keptOf(event));
    },
    'air.cleaned': (slice, event) => {
      slice.cleaned.push(keptOf(event));
    },
    'fan.tested': (slice, event) => {
      slice.fans.push(keptOf(event));
    },
    'cooling.judged': (slice, event) => {
      slice.judged.push(keptOf(event));
    },
    'look.set': (slice, event) => {
      slice.looks.push(keptOf(event));
    },
  },
  decide: {
    'air.found': (_slice, { body }, context) => refusePart(body.part, context),
    'air.cleaned': (_slice, { body }, context) => refusePart(body.part, context),
    'fan.tested': (_slice, { body }, context) =>
      refusePart(body.part, context) ??
      (context.profile.airPath[body.part]?.kind === 'fan'
        ? null
        : refuse('mismatch', `${context.profile.airPath[body.part]?.name} is no fan.`, ['body', 'part'])),
  },
  hears: [],
  withdraw: (slice, commandId) => {
    const isOther = (x: { readonly commandId: string }): boolean => x.commandId !== commandId;
    slice.found = slice.found.filter(isOther);
    slice.cleaned = slice.cleaned.filter(isOther);
    slice.fans = slice.fans.filter(isOther);
    slice.judged = slice.judged.filter(isOther);
    slice.looks = slice.looks.filter(isOther);
  },
};

function refusePart(part: number, { profile }: DecideContext): Refusal | null {
  return part < profile.airPath.length
    ? null
    : refuse('unknownName', `The air path has ${profile.airPath.length} parts, none of number ${part}.`, ['body', 'part']);
}
