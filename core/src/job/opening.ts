/** The order in which to open the links of a pack, as acts of a hand: plug, harness, frames, single bars. */
import { applyFact, type Fact, type PackState } from '../pack/fact.ts';
import { findCuts } from '../pack/cuts.ts';
import { listIslands } from '../pack/exposure.ts';
import type { Profile } from '../pack/profile.ts';
import { findModuleVolts, LIVE_VOLT, partingLinks } from './exposure.ts';
import type { JobState } from './state.ts';

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
  const links = (id: string): readonly number[] => profile.frames.find((f) => f.id === id)?.links ?? [];
  const highest = (pack: PackState): number =>
    Math.max(...listIslands(moduleVolts, new Set(partingLinks(pack, profile))).map((i) => i.volt));
  const steps: CutStep[] = [];
  let { pack } = state;
  const volt = highest(pack);
  const take = (fact: Fact, label: string): void => {
    pack = applyFact(pack, fact, links);
    steps.push({ fact, label, volt: highest(pack) });
  };
  if (!pack.isHarnessUnplugged && volt >= LIVE_VOLT) take({ kind: 'harness', isUnplugged: true }, 'unplug the sense harness');
  const { opensLink, name } = profile.plug;
  const openLinks = partingLinks(pack, profile);
  const groups = profile.frames.filter((f) => f.opensAsOne).map((f) => f.links);
  const found = findCuts({ moduleVolts, limitVolt: LIVE_VOLT - 1e-6, openLinks, groups });
  if (found.kind === 'refused') throw new Error(`the order of cuts: ${found.message}`);
  const wanted = new Set(found.value.links ?? everyLink(profile));
  const rest: { fact: Fact; label: string; links: readonly number[] }[] = [];
  for (const frame of profile.frames)
    if (frame.opensAsOne && frame.links.some((k) => wanted.has(k) && !pack.openLinks.includes(k)))
      rest.push({ fact: { kind: 'frame', frame: frame.id, isOff: true }, label: `take off the ${frame.name}`, links: frame.links });
  const framed = new Set(groups.flat());
  for (const k of wanted) {
    if (framed.has(k) || openLinks.includes(k)) continue;
    const bar = profile.bars.find((b) => b.link === k);
    if (k === opensLink) rest.push({ fact: { kind: 'plug', isIn: false }, label: `pull the ${name}`, links: [k] });
    else
      rest.push({ fact: { kind: 'links', links: [k], areOpen: true }, label: `open link ${k}${bar ? ` (${bar.name})` : ''}`, links: [k] });
  }
  while (rest.length > 0) {
    const after = rest.map(({ fact }) => highest(applyFact(pack, fact, links)));
    const [next] = rest.splice(after.indexOf(Math.min(...after)), 1);
    if (next) take(next.fact, next.label);
  }
  return { steps, volt, isEnough: found.value.possible };
}

function everyLink({ moduleCount }: Profile): number[] {
  return Array.from({ length: moduleCount - 1 }, (_, i) => i + 1);
}
