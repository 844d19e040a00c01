/** What a shop's earlier jobs on a profile add up to: real minutes a stage against the quote, what broke, what was hidden, the air path. */
import type { Profile } from '../pack/profile.ts';
import { STAGES, type Stage } from '../pack/stage.ts';
import { median } from '../stats/robust.ts';
import type { FoundPart } from './found-part.ts';
import type { JobMemory } from './remember.ts';

export interface StageTime {
  readonly stage: Stage;
  readonly quotedMinute: number | null;
  /** Median over the jobs that worked in it; null where none did. */
  readonly medianMinute: number | null;
  readonly jobs: number;
}

/** A sentence to be shown at a zone or layer. */
export interface Hint {
  readonly place: string;
  readonly text: string;
  /** Numbers of the jobs that it is from. */
  readonly jobs: readonly number[];
}

/** What earlier jobs found of the air path. */
export interface AirMemory {
  /** Of this vehicle, the latest first. */
  readonly own: readonly { readonly number: number; readonly at: number; readonly foundShare: number; readonly wasCleaned: boolean }[];
  /** Other vehicles of the profile, and the median of what was shut of theirs; null where there is none. */
  readonly others: number;
  readonly othersShare: number | null;
}

export interface ShopMemory {
  readonly air: AirMemory;
  readonly stages: readonly StageTime[];
  readonly hints: readonly Hint[];
  readonly proposed: readonly FoundPart[];
}

/**
 * What the jobs on a profile add up to. Parts found are one where name and place are the same.
 * @param memories each with whether it is of the vehicle that is at hand
 */
export function recallJobs(memories: readonly (JobMemory & { readonly isSameVehicle?: boolean })[], profile: Profile): ShopMemory {
  const stages = STAGES.filter((s) => profile.stages.includes(s)).map((stage): StageTime => {
    const spent = memories.map((m) => m.minutes[stage] ?? 0).filter((minute) => minute > 0);
    const quotedMinute = profile.quotes.find((q) => q.stage === stage)?.minute ?? null;
    return { stage, quotedMinute, medianMinute: spent.length > 0 ? median(spent) : null, jobs: spent.length };
  });
  const broken = group(
    memories.flatMap((m) => m.broken.map((b) => ({ ...b, number: m.number }))),
    (b) => `${b.place}/${b.name}`,
  ).map((list): Hint => {
    const [first] = list;
    const count = list.reduce((sum, b) => sum + b.count, 0);
    return {
      place: first.place,
      text: `${count} × ${first.name} broke on the way out: have spares at hand.`,
      jobs: list.map((b) => b.number),
    };
  });
  const found = group(
    memories.flatMap((m) => m.found.map((f) => ({ ...f, number: m.number }))),
    (f) => `${f.place}/${f.name.toLowerCase()}`,
  );
  const hidden = found.map((list): Hint => {
    const [first] = list;
    const what = `${first.count ?? 'some'} × ${first.name}${first.size === '' ? '' : ` (${first.size})`}`;
    return {
      place: first.place,
      text: `${first.isHidden ? 'Hidden' : 'Not in the profile'}: ${what}, ${first.where}.`,
      jobs: list.map((f) => f.number),
    };
  });
  const proposed = found.flatMap(([{ kind, name, place, where, size, count, isHidden, isProposed }]) =>
    isProposed ? [{ kind, name, place, where, size, count, isHidden, isProposed }] : [],
  );
  return { air: recallAir(memories), stages, hints: [...hidden, ...broken], proposed };
}

function recallAir(memories: readonly (JobMemory & { readonly isSameVehicle?: boolean })[]): AirMemory {
  const known = memories.flatMap(({ number, air, isSameVehicle = false }) =>
    air ? [{ number, at: Date.parse(air.at), foundShare: air.foundShare, wasCleaned: air.wasCleaned, isSameVehicle }] : [],
  );
  const others = known.filter((k) => !k.isSameVehicle).map((k) => k.foundShare);
  return {
    own: known
      .filter((k) => k.isSameVehicle)
      .map(({ isSameVehicle: _, ...look }) => look)
      .sort((a, b) => b.at - a.at),
    others: others.length,
    othersShare: others.length > 0 ? median(others) : null,
  };
}

function group<T>(list: readonly T[], key: (item: T) => string): [T, ...T[]][] {
  const groups = new Map<string, [T, ...T[]]>();
  for (const item of list) {
    const known = groups.get(key(item));
    if (known) known.push(item);
    else groups.set(key(item), [item]);
  }
  return [...groups.values()];
}
