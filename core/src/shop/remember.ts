/** What one job leaves to the shop: minutes, what broke, what was hidden, what is owed and promised. */
import { findCooling } from '../job/chapters/cool/view.ts';
import { findCoreDesk } from '../job/chapters/hand-over/view.ts';
import type { School } from '../job/chapters/plan/acts.ts';
import { knownParts } from '../job/chapters/strip/state.ts';
import { idsAsFound } from '../job/frame/as-found.ts';
import { findWarranty, type Warranty } from '../job/frame/handing-over.ts';
import { moduleIdsOf, type JobState } from '../job/frame/state.ts';
import type { Profile } from '../pack/profile.ts';
import type { Stage } from '../pack/stage.ts';
import type { FoundPart } from './found-part.ts';

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
