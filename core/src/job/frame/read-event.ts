/**
 * Events and acts as they are stored, read as today's. A body of an older version is brought up step by step; an unknown type or a
 * later version is never folded: this application is too old for it.
 */
import { refuse, type Result, answer } from '../../result.ts';
import { INTAKE_UPGRADES } from '../chapters/intake/upgrades.ts';
import { ISOLATE_UPGRADES } from '../chapters/isolate/upgrades.ts';
import { SWEEP_UPGRADES } from '../chapters/sweep/upgrades.ts';
import type { Upgrade } from '../chapters/upgrade.ts';
import type { EventHeader } from '../chapters/chapter.ts';
import { ACT_TRAITS, isActType, type Act, type ActBody, type ActType, type JobEvent } from './acts.ts';

/**
 * Version of the fold: raised whenever the same events come to another state, so that nothing folded before is taken for it.
 * 1: one state for all; 2: chapters; 3: statements with their time, counts that mean facts; 4: facts before what
 * they name; 5: a clock that was set back; 6: readings moved to their modules, of whom the voltage is read again after the load;
 * 7: what is measured and made ready on the way up, and cooling; 8: terminal covers by joint; 9: refit; 10: handing over;
 * 12: acts of a live car end proofs and readings, voltages across runs, falls in doubt, empty places, counts taken back whole;
 * 13: words passed on in another's name; 14: answered by the same act of their author.
 */
export const FOLD_VERSION = 14;

const UPGRADES: Readonly<Partial<Record<ActType, readonly Upgrade[]>>> = {
  ...INTAKE_UPGRADES,
  ...ISOLATE_UPGRADES,
  ...SWEEP_UPGRADES,
  // version 2 adds contactors, modules at places and the latch of the plug; what version 1 could say stands as it is
  // version 3 adds custody said later, outlet posts and whether all parts are meant
  'fact.stated': [
    { adds: ['fact.isLatched'], bring: (body) => ({ ...body }) },
    { adds: ['counts'], bring: (body) => ({ ...body }) },
  ],
};

export interface StoredAct {
  readonly type: string;
  readonly version: number;
  readonly body: unknown;
}

export type StoredEvent = EventHeader & StoredAct;

const TOO_OLD = 'This application is too old for what was recorded. Load it anew.';

/**
 * The body of a stored act as today's. Refusal `tooOld` for a type or version that is not known here.
 * @param stream the job's id
 */
export function upgradeBody({ type, version, body }: StoredAct, stream: string): Result<unknown> {
  if (!isActType(type)) return refuse('tooOld', `${TOO_OLD} It does not know "${type}".`, ['type']);
  const now = ACT_TRAITS[type].version;
  if (!Number.isInteger(version) || version < 1 || version > now)
    return refuse('tooOld', `${TOO_OLD} It knows "${type}" up to version ${now}, not ${version}.`, ['version']);
  const steps = UPGRADES[type]?.slice(version - 1) ?? [];
  const brought = steps.reduce((old, { bring }) => bring(old, stream), body as Record<string, unknown>);
  if (type !== 'word.passed') return answer(brought);
  // what was passed on is read as its own type has it now
  const said = (brought as ActBody<'word.passed'>).said;
  const inner = upgradeBody(said, stream);
  if (inner.kind === 'refused' || !isActType(said.type)) return inner;
  return answer({ ...brought, said: { ...said, version: ACT_TRAITS[said.type].version, body: inner.value } });
}

/**
 * The place of the first key of a body that its version does not know and a later one does: bringing it up would lose or misread it. Null
 * where there is none. Keys that no version knows are found by the schema of today.
 */
export function findSurplus({ type, version, body }: StoredAct): (string | number)[] | null {
  if (!isActType(type)) return null;
  const added = (UPGRADES[type] ?? []).slice(version - 1).flatMap((step) => step.adds);
  for (const place of added) {
    const found = findPlace(body, place.split('.'));
    if (found) return found;
  }
  return null;
}

function findPlace(value: unknown, [key, ...rest]: readonly string[]): (string | number)[] | null {
  if (key === undefined) return [];
  if (typeof value !== 'object' || value === null) return null;
  const held =
    key === '*' ? [...Object.values(value).entries()] : Object.hasOwn(value, key) ? [[key, Reflect.get(value, key)] as const] : [];
  for (const [at, one] of held) {
    const found = findPlace(one, rest);
    if (found) return [at, ...found];
  }
  return null;
}

/** A stored event as today's; it was checked when it was kept. Refusal as {@link upgradeBody}. */
export function readEvent(stored: StoredEvent, stream: string): Result<JobEvent> {
  const body = upgradeBody(stored, stream);
  if (body.kind === 'refused') return body;
  const { number, commandId, by, at, deviceAt, device, forwardedBy, type } = stored;
  const more = { ...(device ? { device } : {}), ...(forwardedBy === undefined ? {} : { forwardedBy }) };
  return answer({ number, commandId, by, at, deviceAt, ...more, type, body: body.value } as JobEvent);
}

/** The version that an act of this type is kept in now. */
export function versionOf({ type }: Pick<Act, 'type'>): number {
  return ACT_TRAITS[type].version;
}
