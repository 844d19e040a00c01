/** What of the number on the line stands above what is known, counted by its cause: each is taken away in turn, the number falls so far. */
import { hazardsOf, joinHazards, type Hazards } from '../../pack/hazard.ts';
import type { Profile } from '../../pack/profile.ts';
import { listDisagreements } from '../frame/counted-hazards.ts';
import type { JobState } from '../frame/state.ts';
import { hazardsOfStatements } from '../frame/statements.ts';
import { exposePack, type Account } from './account.ts';

export const EXCESS_CAUSES = ['waiting', 'probed', 'lateWord', 'counts', 'contactors', 'readings', 'unmeasured', 'low'] as const;

export interface Excess {
  readonly cause: (typeof EXCESS_CAUSES)[number];
  readonly volt: number;
  readonly sentence: string;
}

const SENTENCES: Record<Excess['cause'], string> = {
  waiting: 'acts that wait on this device, not kept yet: they raise it and never lower it',
  probed: 'posts that a meter was laid to, until a proof there is signed or they are stated covered',
  lateWord: 'a statement that came late, until the thing is stated anew',
  counts: 'parts counted otherwise than it is stated, until the two agree',
  contactors: 'contactors that nothing proves open, and a source that may be gone',
  readings: 'readings that differ, fell too far, or add up to less than was measured across them',
  unmeasured: 'modules not measured since the last charge, counted at their maximum rather than at their nominal voltage',
  low: 'modules read below their nominal voltage, counted at it: at rest they come back up',
};

/** What a state of a job was found to allow. */
export interface Side {
  readonly account: Account;
  readonly state: JobState;
}

/**
 * @param shown what the number is computed from
 * @param kept the kept state alone
 * @param last the state once all that waits is kept
 */
export function findExcess(shown: Account, kept: Side, last: Side, profile: Profile): Excess[] {
  // what waits may raise it, and does not lower it as it will once it is kept
  const isLower = last.account !== kept.account && voltOf(last.account, profile) < voltOf(kept.account, profile);
  const { account: from, state } = isLower ? last : kept;
  const stated = hazardsOf(state.pack);
  const withCounts = (hazards: Hazards): Hazards =>
    listDisagreements(state, profile).reduce((worst, d) => joinHazards(worst, d.hazards), hazards);
  const open = { ...stated, mayContactorsBeShut: false, mayBeInCar: false, chargerVolt: null };
  const trusted = from.modules.map((m) => (isQuestioned(m) ? { ...m, volt: Math.min(m.volt, profile.moduleType.nominalVolt) } : m));
  const steps: readonly (readonly [Excess['cause'], Account])[] = [
    ['waiting', from],
    ['probed', { ...from, hazards: withCounts(hazardsOfStatements(state, profile)) }],
    ['lateWord', { ...from, hazards: withCounts(stated) }],
    ['counts', { ...from, hazards: stated }],
    ['contactors', { ...from, hazards: open }],
    ['readings', { ...from, hazards: open, modules: trusted }],
    ['unmeasured', { ...from, hazards: open, modules: trusted.map((m) => nominal(m, profile)) }],
    ['low', { ...from, hazards: open, modules: trusted.map((m) => asRead(nominal(m, profile), profile)) }],
  ];
  let before = voltOf(shown, profile);
  const found: Excess[] = [];
  const note = (cause: Excess['cause'], volt: number): void => {
    if (before - volt > 0.05) found.push({ cause, volt: before - volt, sentence: SENTENCES[cause] });
    before = Math.min(before, volt);
  };
  for (const [cause, account] of steps) note(cause, voltOf(account, profile));
  return found.sort((a, b) => b.volt - a.volt);
}

function voltOf(account: Account, profile: Profile): number {
  return exposePack(account, profile, 'volts').reachable.volt;
}

/** Whether something speaks against the reading of a module. */
function isQuestioned({ isDoubtful, isFallDoubted, isContradicted }: Account['modules'][number]): boolean {
  return isDoubtful || isFallDoubted || isContradicted;
}

function nominal(module: Account['modules'][number], { moduleType }: Profile): Account['modules'][number] {
  return module.isMeasured ? module : { ...module, volt: Math.min(module.volt, moduleType.nominalVolt) };
}

function asRead(module: Account['modules'][number], { moduleType }: Profile): Account['modules'][number] {
  const isLow = module.isMeasured && module.readVolt !== null && module.readVolt < moduleType.nominalVolt;
  return isLow ? { ...module, volt: Math.min(module.volt, module.readVolt) } : module;
}
