/** What a hand can do next to bring the voltage down. */
import { findCuts, type Cuts } from '../../pack/cuts.ts';
import type { PackState } from '../../pack/effect.ts';
import { listIslands } from '../../pack/exposure.ts';
import { applyFact, type Fact } from '../../pack/fact.ts';
import { listOpenBars } from '../../pack/join.ts';
import type { Profile } from '../../pack/profile.ts';
import { stagesOf } from '../frame/stages.ts';
import type { JobState } from '../frame/state.ts';
import { LIVE_VOLT, partingLinks, type ModuleVolt } from './volts.ts';

export interface NextAct {
  readonly fact: Fact;
  readonly label: string;
  /** Highest island once it is done. */
  readonly volt: number;
  /** Why it lowers less than one would think; null where it does not. */
  readonly note: string | null;
}

/** Acts that a hand can do next to part the string, in the profile's terms; the links of a frame that opens as one come by the frame. */
export function listActs(pack: PackState, profile: Profile): { fact: Fact; label: string }[] {
  const acts: { fact: Fact; label: string }[] = [];
  const isOpen = new Set(listOpenBars(pack, profile));
  if (pack.isPlugIn && profile.plug.opensLink !== null)
    acts.push({ fact: { kind: 'plug', isIn: false }, label: `pull the ${profile.plug.name}` });
  for (const frame of profile.frames)
    if (frame.opensAsOne && frame.links.some((k) => !isOpen.has(k)))
      acts.push({ fact: { kind: 'frame', frame: frame.id, isOff: true }, label: `take off the ${frame.name}` });
  const framed = new Set(profile.frames.filter((f) => f.opensAsOne).flatMap((f) => f.links));
  for (let k = 1; k < profile.moduleCount; k++)
    if (!isOpen.has(k) && !framed.has(k) && k !== profile.plug.opensLink)
      acts.push({ fact: { kind: 'links', links: [k], areOpen: true }, label: `open ${barName(k, profile)}` });
  return acts;
}

function barName(link: number, profile: Profile): string {
  const bar = profile.bars.find((b) => b.link === link);
  return bar && bar.kind !== 'bar' ? `link ${link} (${bar.name})` : `link ${link}`;
}

const TIED = 'The sense harness still ties the parts: until it is off they count as one string.';

/**
 * The act that lowers the highest island most, or where several stand as high, one of them; among those a hand can do now: with the
 * case shut that is the plug alone; with it open first the harness, without which parting the string changes nothing.
 */
export function findNext(pack: PackState, modules: readonly ModuleVolt[], profile: Profile): NextAct | null {
  const moduleVolts = modules.map((m) => m.volt);
  const standing = (state: PackState): { highest: number; count: number } => {
    const volts = listIslands(moduleVolts, new Set(partingLinks(state, profile))).map((i) => i.volt);
    const highest = Math.max(...volts);
    return { highest, count: volts.filter((v) => v > highest - 1e-9).length };
  };
  if (pack.isCaseOpen && !pack.isHarnessUnplugged) {
    const volt = standing({ ...pack, isHarnessUnplugged: true }).highest;
    return { fact: { kind: 'harness', isUnplugged: true }, label: 'unplug the sense harness', volt, note: null };
  }
  let best: NextAct | null = null;
  const untied = { ...pack, isHarnessUnplugged: true };
  let least = standing(untied);
  for (const { fact, label } of listActs(pack, profile)) {
    if (!pack.isCaseOpen && fact.kind !== 'plug') continue;
    const parted = standing(applyFact(untied, fact, profile));
    const isLower = parted.highest < least.highest - 1e-9 || (parted.highest <= least.highest + 1e-9 && parted.count < least.count);
    if (!isLower) continue;
    least = parted;
    best = { fact, label, volt: standing(applyFact(pack, fact, profile)).highest, note: pack.isHarnessUnplugged ? null : TIED };
  }
  return best;
}

/** Whether the string is parted at all in the course of this job. */
export function isPartingUsual(state: JobState, profile: Profile): boolean {
  const stages = stagesOf(state, profile);
  return stages.includes('isolate') || stages.includes('open');
}

/** Fewest acts until no island stands at 60 V or above it. */
export function findWayToLimit(moduleVolts: readonly number[], openLinks: readonly number[], profile: Profile): Cuts | null {
  const groups = profile.frames.filter((f) => f.opensAsOne).map((f) => f.links);
  const found = findCuts({ moduleVolts, limitVolt: LIVE_VOLT - 1e-6, openLinks, groups });
  return found.kind === 'answer' ? found.value : null;
}
