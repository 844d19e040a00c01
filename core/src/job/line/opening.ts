/** The order in which to open the links of a pack, as acts of a hand: plug, harness, frames, single bars. */
import { findCuts } from '../../pack/cuts.ts';
import type { PackState } from '../../pack/effect.ts';
import { listIslands } from '../../pack/exposure.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { linksOf } from '../../pack/join.ts';
import type { Profile } from '../../pack/profile.ts';
import type { JobState } from '../frame/state.ts';
import { listActs } from './next.ts';
import { findModuleVolts, LIVE_VOLT, partingLinks } from './volts.ts';

export interface CutStep {
  readonly fact: Fact;
  readonly label: string;
  /** The highest island once this is done too. */
  readonly volt: number;
}

export interface CutOrder {
  readonly steps: readonly CutStep[];
  /** The highest island now. */
  readonly volt: number;
  /** Whether the steps bring every island below the mark; where they cannot, they bring it as low as it goes. */
  readonly isEnough: boolean;
}

/**
 * The fewest acts that bring every island of the string below 60 V, from how the pack stands now: what lowers the highest island
 * most comes first. The sense harness counts: while it is plugged in, the parts count as one string, so it comes off first.
 */
export function orderCuts(state: JobState, profile: Profile): CutOrder {
  const moduleVolts = findModuleVolts(state, profile).map((m) => m.volt);
  const highest = (pack: PackState): number =>
    Math.max(...listIslands(moduleVolts, new Set(partingLinks(pack, profile))).map((i) => i.volt));
  const steps: CutStep[] = [];
  let { pack } = state;
  const volt = highest(pack);
  const take = (fact: Fact, label: string): void => {
    pack = applyFact(pack, fact, profile);
    steps.push({ fact, label, volt: highest(pack) });
  };
  if (!pack.isHarnessUnplugged && volt >= LIVE_VOLT) take({ kind: 'harness', isUnplugged: true }, 'unplug the sense harness');
  const openLinks = partingLinks(pack, profile);
  const groups = profile.frames.filter((f) => f.opensAsOne).map((f) => f.links);
  const found = findCuts({ moduleVolts, limitVolt: LIVE_VOLT - 1e-6, openLinks, groups });
  if (found.kind === 'refused') throw new Error(`the order of cuts: ${found.message}`);
  // where no cuts are enough, every act that parts the string is one of them
  const wanted = found.value.links && new Set(found.value.links);
  const rest = listActs(pack, profile).filter(({ fact }) => !wanted || linksOfFact(fact, profile).some((k) => wanted.has(k)));
  while (rest.length > 0) {
    const after = rest.map(({ fact }) => highest(applyFact(pack, fact, profile)));
    const [next] = rest.splice(after.indexOf(Math.min(...after)), 1);
    if (next) take(next.fact, next.label);
  }
  return { steps, volt, isEnough: found.value.possible };
}

function linksOfFact(fact: Fact, profile: Profile): readonly number[] {
  if (fact.kind === 'frame') return linksOf(profile)(fact.frame);
  if (fact.kind === 'links') return fact.links;
  return profile.plug.opensLink === null ? [] : [profile.plug.opensLink];
}
