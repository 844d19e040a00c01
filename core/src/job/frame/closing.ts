/** What still stands against closing a job as finished, by its kind. */
import { KIND_RULES, type Need } from '../chapters/intake/kinds.ts';
import { CAUSE_NAMES } from '../chapters/hand-over/acts.ts';
import { findCauses } from '../chapters/hand-over/view.ts';
import { findCooling } from '../chapters/cool/view.ts';
import { findLedger } from '../chapters/strip/view.ts';
import { wasEveryPlaceRested } from '../chapters/sweep/view.ts';
import { listOpenLinks } from '../../pack/join.ts';
import type { Profile } from '../../pack/profile.ts';
import { refitOf } from './refitting.ts';
import type { JobState } from './state.ts';

/** Sentences, in the order of the kind's needs; empty where the job can be closed. */
export function findUnmet(state: JobState, profile: Profile): string[] {
  const { opened } = state.intake;
  const needs = opened ? KIND_RULES[opened.kind].needs.flatMap((need) => NEED_CHECKS[need](state, profile)) : [];
  return [...needs, ...sayPassed(state)];
}

/** Words that nobody answered for; whatever the kind. */
function sayPassed({ passed }: JobState): string[] {
  const names = [...new Set(passed.map(({ of }) => of.toUpperCase()))];
  return names.map((name) => {
    const count = passed.filter(({ of }) => of.toUpperCase() === name).length;
    return `${count} ${count === 1 ? 'word' : 'words'} passed on for ${name} ${count === 1 ? 'waits' : 'wait'} for ${name}’s answer.`;
  });
}

/** Whether a job of this kind comes to that before it is closed. */
export function isNeeded({ intake }: JobState, need: Need): boolean {
  return intake.opened !== null && KIND_RULES[intake.opened.kind].needs.includes(need);
}

/** What stands against one need alone, whatever the kind. */
export function unmetOf(need: Need, state: JobState, profile: Profile): string[] {
  return NEED_CHECKS[need](state, profile);
}

const NEED_CHECKS: Record<Need, (state: JobState, profile: Profile) => string[]> = {
  packBack: ({ pack }, { moduleCount }) => {
    const open = listOpenLinks(pack.joins, moduleCount).length;
    return [
      ...say(pack.isOnBench, 'The pack is stated on the bench.'),
      ...say(open > 0 && pack.isPlugIn, `${open} ${open === 1 ? 'link is' : 'links are'} stated open.`),
      ...say(pack.isHarnessUnplugged, 'The sense harness is stated unplugged.'),
      ...say(pack.bareJoints.length > 0, 'The terminal covers are stated off.'),
      ...say(pack.isCaseOpen, 'The case is stated open.'),
      ...say(pack.connectors !== 'closed', 'The HV cables are not stated on and covered.'),
      ...say(!pack.isPlugIn, 'The service plug is stated out.'),
      ...say(pack.isPlugIn && pack.isPlugLatched === false, 'The service plug is stated in and not latched.'),
      ...say(pack.isTwelveVoltOff, 'The 12 V is stated off.'),
    ];
  },
  ledgerSquare: (state, profile) => {
    const { owed } = findLedger(state, profile);
    return say(owed > 0, `${owed} ${owed === 1 ? 'piece is' : 'pieces are'} neither back nor accounted for.`);
  },
  cooled: (state, profile) => {
    const { next } = findCooling(state, profile);
    return next === null || !profile.stages.includes('cool') ? [] : [`The cooling is not answered: ${next}.`];
  },
  // a car whose 12 V and plug nobody moved is as awake as it came
  woken: (state, profile) => {
    const { isPlugIn, isPlugLatched, isTwelveVoltOff, isOnBench } = state.pack;
    if (state.refit.touched === 0 || !isPlugIn || isPlugLatched === false || isTwelveVoltOff || isOnBench) return [];
    const { isAwake, wake } = refitOf(state, profile);
    return say(!isAwake, wake?.isGood === false ? 'The car did not wake well.' : 'The car was not woken after the last plug-in.');
  },
  // a car whose pack never came loose was not driven for it
  scanned: (state, profile) => {
    if (state.refit.touched === 0 || state.pack.isOnBench) return [];
    const left = refitOf(state, profile).steps.find((s) => s.id === 'roadScan' && !s.isDone);
    return say(left !== undefined, 'The car was not scanned after the road test.');
  },
  causesAnswered: ({ handOver, cool, finding }) => {
    const named = findCauses(handOver);
    // said at the cooling already: nobody is asked twice
    const judged = cool.judged.at(-1);
    const isHeatAnswered = judged?.isAnswered === true;
    const open = named.filter((c) => !c.isAnswered && !(c.cause === 'heat' && isHeatAnswered && judged.number > c.number));
    const owed = finding.findings.filter((f) => f.settled === null && (f.follow === 'renew' || f.follow === 'order'));
    return [
      ...say(named.length === 0 && !isHeatAnswered, 'No cause of the damage is named.'),
      ...open.map((c) => `Not answered: ${CAUSE_NAMES[c.cause].toLowerCase()}.`),
      ...say(owed.length > 0, `${owed.length} ${owed.length === 1 ? 'finding asks' : 'findings ask'} for a new part and ${owed.length === 1 ? 'is' : 'are'} not settled.`), // prettier-ignore
    ];
  },
  sourceOff: ({ pack }) => say(pack.chargerVolt !== null, 'A source is stated on the pack.'),
  planChosen: ({ plan }) => say(plan.chosen === null, 'No plan is chosen.'),
  tested: (state) => say(!wasEveryPlaceRested(state), 'Not every module was read before and after a rest.'),
  somethingFound: ({ finding, isolate, sweep }) =>
    say(finding.findings.length + isolate.insulation.length + sweep.sweeps.length === 0, 'Nothing was found or measured yet.'),
};

function say(isSo: boolean, sentence: string): string[] {
  return isSo ? [sentence] : [];
}
