/** The page that the customer reads: what was wrong, what was done, what is promised, and what to watch. */
import { CAUSE_NAMES } from '../job/chapters/hand-over/acts.ts';
import { findCauses, findOffers } from '../job/chapters/hand-over/view.ts';
import { lookAfter } from '../job/chapters/cool/looks.ts';
import { findWarranty } from '../job/frame/handing-over.ts';
import { findCooling } from '../job/chapters/cool/view.ts';
import { SCHOOL_NAMES } from '../job/chapters/plan/acts.ts';
import type { ReportBlock, ReportInput, Words } from './blocks.ts';
import { countModules } from './modules.ts';

export function writeCustomerPage(input: ReportInput, words: Words): ReportBlock[] {
  const { state, profile, vehicle, customer, isDemo } = input;
  const number = state.intake.opened?.number ?? 0;
  return [
    { kind: 'heading', level: 1, text: `${vehicle?.name ?? profile.name} ${vehicle?.plate ?? ''}`.trim() },
    { kind: 'text', text: `Job ${number}, for ${customer?.name ?? 'the owner'}. ${words.day(input.now)}.`, tone: 'quiet' },
    ...(isDemo ? [{ kind: 'text', text: 'From a demonstration: vehicle, people and instruments are invented or simulated.', tone: 'quiet' } as const] : []), // prettier-ignore
    ...(state.intake.closed === null
      ? [{ kind: 'text', text: 'The job is still open: this is how far it is.', tone: 'caution' } as const]
      : []),
    ...sayToCustomer(input),
    { kind: 'heading', level: 2, text: 'What was found' },
    ...listCauses(input),
    { kind: 'heading', level: 2, text: 'What was done' },
    ...listDone(input),
    { kind: 'heading', level: 2, text: 'What is promised' },
    { kind: 'facts', rows: listPromises(input, words) },
    { kind: 'heading', level: 2, text: 'What to watch' },
    {
      kind: 'text',
      text: 'Keep the air inlet of the battery free: no bags, blankets or pet hair over it. A warning light, a fan that is suddenly loud, or a charge that jumps are reasons to come back.', // prettier-ignore
    },
    {
      kind: 'text',
      tone: 'caution',
      text: 'The pack holds a deadly voltage also when the vehicle is off. Nobody but a qualified person opens covers marked as high voltage. The maker’s service information and local rules govern all work on it.', // prettier-ignore
    },
  ];
}

function sayToCustomer({ state }: ReportInput): ReportBlock[] {
  const text = state.handOver.prepared.at(-1)?.toCustomer ?? '';
  return text === '' ? [] : [{ kind: 'text', text }];
}

function listCauses({ state, profile }: ReportInput): ReportBlock[] {
  const causes = findCauses(state.handOver).map((c): ReportBlock => {
    const standing = c.isAnswered ? 'answered' : 'not answered';
    return { kind: 'text', text: `${CAUSE_NAMES[c.cause]}: ${standing}. ${c.how}`.trim() };
  });
  const { judged, foundShare } = findCooling(state, profile);
  const air = foundShare === null ? '' : `Of the air path ${Math.round(100 * foundShare)} % was shut. `;
  const heat = judged ? [{ kind: 'text', text: `${air}The cooling ${judged.isAnswered ? 'is answered' : 'is not answered'}. ${judged.note}`.trim() } as const] : []; // prettier-ignore
  const all = [...causes, ...heat];
  return all.length > 0 ? all : [{ kind: 'text', text: 'No cause is named yet.' }];
}

function listDone(input: ReportInput): ReportBlock[] {
  const { state } = input;
  const { staying, fromShelf, out } = countModules(input);
  const said = [
    ...(state.plan.chosen ? [`${SCHOOL_NAMES[state.plan.chosen.school]}.`] : []),
    ...(fromShelf > 0 ? [`${fromShelf} ${fromShelf === 1 ? 'module' : 'modules'} renewed, ${staying} stayed.`] : []),
    ...(out > 0 && fromShelf === 0 ? [`${out} modules were taken out.`] : []),
    ...(state.cool.cleaned.length > 0 ? ['The air path was cleaned.'] : []),
    ...(state.rebuild.bars.some((b) => b.how === 'new') ? ['Bus bars renewed.'] : []),
    ...(state.rebuild.bars.some((b) => b.how === 'cleaned') ? ['Bus bars cleaned.'] : []),
    ...(state.refit.driven.some((d) => d.isGood) ? ['Driven and scanned.'] : []),
    ...findOffers(state.handOver).map((o) => `${o.what}: ${o.answer === 'open' ? 'offered' : o.answer}.`),
  ];
  return [{ kind: 'text', text: said.length > 0 ? said.join(' ') : 'Nothing was changed.' }];
}

function listPromises({ state, profile, policy }: ReportInput, words: Words): { name: string; value: string }[] {
  const given = state.handOver.given.at(-1);
  const { look } = findCooling(state, profile);
  const until = findWarranty(state, policy.isolation.timeZone)?.until ?? '';
  const kilometre = given?.kilometre == null ? '' : ` or ${given.kilometre} km`;
  return [
    {
      name: 'Warranty',
      value: given ? (given.months === 0 ? 'none' : `${given.months} months${kilometre}, until ${until}`) : 'not said yet', // prettier-ignore
    },
    ...(given?.words ? [{ name: 'Its terms', value: given.words }] : []),
    { name: 'It holds for', value: 'the pack and the vehicle, also when the vehicle is sold' },
    { name: 'Next look at the air path', value: look ? words.day(lookAfter(Date.parse(look.at), look.months)) : 'not set yet' },
  ];
}
