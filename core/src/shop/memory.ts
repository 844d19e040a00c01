/** What a shop remembers of earlier jobs on a profile: real minutes a stage against the quote, what broke, what was hidden. */
import { findWarranty, type Warranty } from '../job/frame/handing-over.ts';
import { findCoreDesk } from '../job/chapters/hand-over/view.ts';
import type { School } from '../job/chapters/plan/acts.ts';
import { idsAsFound } from '../job/frame/as-found.ts';
import { moduleIdsOf } from '../job/frame/state.ts';
import { findCooling } from '../job/chapters/cool/view.ts';
import { median } from '../stats/robust.ts';
import type { JobState } from '../job/frame/state.ts';
import { knownParts } from '../job/chapters/strip/state.ts';
import type { PartKind } from '../pack/parts.ts';
import { STAGES, type Stage } from '../pack/stage.ts';
import type { Profile } from '../pack/profile.ts';

/** So little shut counts as clean; common practice, no source. */
const CLEAN_SHARE = 0.1;

/** What one job leaves to remember. */
export interface JobMemory {
  readonly number: number;
  readonly minutes: Partial<Record<Stage, number>>;
  /** Pieces that came out stripped or broken. */
  readonly broken: readonly { readonly partId: string; readonly name: string; readonly place: string; readonly count: number }[];
  /** Parts that the profile did not know. */
  readonly found: readonly FoundPart[];
  /** Of the air path, where all of it was looked at. */
  readonly air: { readonly at: string; readonly foundShare: number; readonly wasCleaned: boolean } | null;
  /** How it was repaired; null where no plan was chosen. */
  readonly school: School | null;
  /** ISO 8601; null while it is open. */
  readonly closedAt: string | null;
  /** Modules that came from the shelf into the pack, and that came out of it. */
  readonly modules: { readonly in: number; readonly out: number };
  /** Promised at the end, of pack and vehicle: its last day; null where nothing was. */
  readonly warranty: Warranty | null;
  /** What goes back to a supplier; null where nothing does. */
  readonly core: CoreOwed | null;
  /** What a person said that it came back for; null where nobody did. */
  readonly explained: string | null;
}

/** The old pack or modules on their way back, and what of the deposit is still out. */
export interface CoreOwed {
  readonly supplier: string;
  readonly what: 'pack' | 'modules';
  readonly count: number;
  readonly deposit: number;
  readonly outstanding: number;
  /** Calendar date. */
  readonly shipBy: string;
  readonly isShipped: boolean;
  readonly isDisputed: boolean;
  readonly isSettled: boolean;
}

/** A part that a job found and the profile does not know. */
export interface FoundPart {
  readonly kind: PartKind;
  readonly name: string;
  readonly place: string;
  readonly where: string;
  readonly size: string;
  readonly count: number | null;
  readonly isHidden: boolean;
  readonly isProposed: boolean;
}

/** @param timeZone of the shop, IANA name */
export function rememberJob(state: JobState, profile: Profile, timeZone: string): JobMemory {
  const parts = new Map(knownParts(state, profile).map((p) => [p.id, p]));
  const broken = new Map<string, number>();
  for (const { partId, count, condition, from } of state.strip.moved)
    if (from.kind === 'inPlace' && (condition === 'broken' || condition === 'stripped'))
      broken.set(partId, (broken.get(partId) ?? 0) + count);
  return {
    number: state.intake.opened?.number ?? 0,
    minutes: state.minutes,
    broken: [...broken].flatMap(([partId, count]) => {
      const part = parts.get(partId);
      return part ? [{ partId, name: part.name, place: part.place, count }] : [];
    }),
    found: state.strip.added
      .filter((a) => !a.isForeign)
      .map(({ part: { kind, name, place, where, size, count, isHidden }, isProposed }) => ({
        kind,
        name,
        place,
        where,
        size,
        count,
        isHidden,
        isProposed,
      })),
    air: rememberAir(state, profile),
    ...{ school: state.plan.chosen?.school ?? null, closedAt: state.intake.closed?.at ?? null },
    modules: countMoved(state),
    warranty: findWarranty(state, timeZone),
    core: rememberCore(state),
    explained: state.handOver.explained.at(-1)?.what ?? null,
  };
}

function countMoved(state: JobState): JobMemory['modules'] {
  const now = moduleIdsOf(state).filter((id) => id !== '');
  const cameWith = new Set(idsAsFound(state).filter((id) => id !== null));
  return { in: now.filter((id) => !cameWith.has(id)).length, out: [...cameWith].filter((id) => !now.includes(id)).length };
}

function rememberCore({ handOver }: JobState): CoreOwed | null {
  const desk = findCoreDesk(handOver);
  if (!desk) return null;
  const { supplier, what, count, deposit, outstanding, shipBy, isAllShipped, settled, next } = desk;
  return {
    ...{ supplier, what, count, deposit, outstanding, shipBy },
    ...{ isShipped: isAllShipped, isDisputed: settled?.outcome === 'disputed', isSettled: next === null },
  };
}

function rememberAir(state: JobState, profile: Profile): JobMemory['air'] {
  const { foundShare, nowShare } = findCooling(state, profile);
  const last = [...state.cool.found, ...state.cool.cleaned].reduce((latest, { at }) => (at > latest ? at : latest), '');
  if (foundShare === null || nowShare === null || last === '') return null;
  return { at: last, foundShare, wasCleaned: nowShare < CLEAN_SHARE };
}

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

/**
 * The profile with a part that a job found; the tool, the torque and the cautions are still to be said. A part of that name at that
 * place which is there already is left as it is, and so is a place that the profile no longer has.
 */
export function adoptPart(profile: Profile, found: FoundPart): Profile {
  const { name, place, where, size, count, isHidden } = found;
  const isKnown = profile.parts.some((p) => p.place === place && p.name.toLowerCase() === name.toLowerCase());
  const isPlace = [...profile.zones, ...profile.layers].some((p) => p.id === place);
  if (isKnown || !isPlace) return profile;
  const slug =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 50) || 'part';
  let id = slug;
  for (let n = 2; profile.parts.some((p) => p.id === id); n++) id = `${slug}-${n}`;
  const part = { id, kind: found.kind, name, place, where, size, count, tool: '', torque: null, isHidden, caution: '', effects: [] };
  return { ...profile, parts: [...profile.parts, part] };
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
