/** What of the number on the line stands above what is known, counted by its cause: each is taken away in turn, the number falls so far. */
import { hazardsOf, joinHazards, type Hazards } from '../../pack/hazard.ts';
import type { Profile } from '../../pack/profile.ts';
import { listDisagreements } from '../frame/counts.ts';
import type { JobState } from '../frame/state.ts';
import { exposePack, type Account } from './account.ts';

export const EXCESS_CAUSES = ['waiting', 'lateWord', 'counts', 'contactors', 'unmeasured'] as const;

export interface Excess {
  readonly cause: (typeof EXCESS_CAUSES)[number];
  readonly volt: number;
  readonly sentence: string;
}

const SENTENCES: Record<Excess['cause'], string> = {
  waiting: 'acts that wait on this device, not kept yet: they raise it and never lower it',
  lateWord: 'a statement that came late, until the thing is stated anew',
  counts: 'parts counted otherwise than it is stated, until the two agree',
  contactors: 'contactors that nothing proves open',
  unmeasured: 'modules not measured since the last charge, counted at their maximum rather than at their nominal voltage',
};

/**
 * @param shown what the number is computed from
 * @param from the kept state alone, with its account
 */
export function findExcess(shown: Account, from: { readonly kept: Account; readonly state: JobState }, profile: Profile): Excess[] {
  const { kept, state } = from;
  const stated = hazardsOf(state.pack);
  const counted = listDisagreements(state, profile).reduce((worst: Hazards, d) => joinHazards(worst, d.hazards), stated);
  const steps: readonly (readonly [Excess['cause'], Account])[] = [
    ['waiting', kept],
    ['lateWord', { ...kept, hazards: counted }],
    ['counts', { ...kept, hazards: stated }],
    ['contactors', { ...kept, hazards: { ...stated, mayContactorsBeShut: false, mayBeInCar: false } }],
    [
      'unmeasured',
      {
        ...kept,
        hazards: { ...stated, mayContactorsBeShut: false, mayBeInCar: false },
        modules: kept.modules.map((m) => nominal(m, profile)),
      },
    ],
  ];
  let before = exposePack(shown, profile, 'volts').reachable.volt;
  const found: Excess[] = [];
  for (const [cause, account] of steps) {
    const { volt } = exposePack(account, profile, 'volts').reachable;
    if (before - volt > 0.05) found.push({ cause, volt: before - volt, sentence: SENTENCES[cause] });
    before = Math.min(before, volt);
  }
  return found.sort((a, b) => b.volt - a.volt);
}

function nominal(module: Account['modules'][number], { moduleType }: Profile): Account['modules'][number] {
  return module.isMeasured ? module : { ...module, volt: Math.min(module.volt, moduleType.nominalVolt) };
}
