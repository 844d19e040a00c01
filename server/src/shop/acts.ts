/** Acts of the shop: each decided by its room, kept in the shop's stream, and shown in the room's tables. */
import { SHOP_STREAM, type SentShopAct } from '@estuarine/contract';
import {
  answer,
  DEFAULT_POLICY,
  isAtLeast,
  localTime,
  refuse,
  SHOP_ACT_ROLES,
  SHOP_EVENT_VERSION,
  touchOf,
  touchOfDrop,
  type Refusal,
  type Result,
  type Role,
  type ShopAct,
  type ShopActType,
  type Touch,
} from '@estuarine/core';
import type pg from 'pg';
import { customerRoom } from '../customers/acts.ts';
import type { Queryable } from '../database/database.ts';
import { gearRoom } from '../gear/acts.ts';
import { instrumentRoom } from '../instruments/acts.ts';
import { keepActs, onlyOutcome } from '../log/append.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { ShopRoom, ShopScene, ShopTables } from '../log/shop-room.ts';
import { findTail, readSince, type Outcome } from '../log/store.ts';
import { personRoom } from '../persons/acts.ts';
import { policyRoom } from '../policy/acts.ts';
import { findLatestPolicy } from '../policy/store.ts';
import { profileRoom } from '../profiles/acts.ts';
import { stockRoom } from '../stock/acts.ts';
import { termsRoom } from '../terms/acts.ts';

/** Every act of the shop has its case in one room: one without does not compile. */
const DECIDE: ShopRoom<ShopActType>['decide'] = {
  ...stockRoom.decide,
  ...policyRoom.decide,
  ...profileRoom.decide,
  ...gearRoom.decide,
  ...personRoom.decide,
  ...instrumentRoom.decide,
  ...customerRoom.decide,
  ...termsRoom.decide,
};
const PROJECT: ShopRoom<ShopActType>['project'] = {
  ...stockRoom.project,
  ...policyRoom.project,
  ...profileRoom.project,
  ...gearRoom.project,
  ...personRoom.project,
  ...instrumentRoom.project,
  ...customerRoom.project,
  ...termsRoom.project,
};

/** How many of the changes that came in between are told. */
const MOST_TOLD = 3;

export interface ShopActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  /** Told of what was kept, after the commit; left out where nobody listens. */
  readonly announce?: (stream: string, head: number) => void;
}

export async function keepShopAct(shop: ShopActs, sent: SentShopAct, role: Role): Promise<Outcome> {
  const { pool, shopId, clock, announce } = shop;
  const { commandId, by, deviceAt, act, seen } = sent;
  const kept = await keepActs(
    pool,
    {
      shopId,
      stream: SHOP_STREAM,
      acts: [{ commandId, by, keptBy: by, forwardedBy: null, deviceAt, given: [{ act }] }],
      clock,
      opens: true,
    },
    {
      // other rooms and other processes have a part in the shop's tables: it is always locked first
      known: () => null,
      decide: async (db) => {
        const timeZone = ((await findLatestPolicy(db, shopId))?.policy ?? DEFAULT_POLICY).isolation.timeZone;
        const decided = await decideShopAct(act, { db, shopId, role, today: localTime(clock().getTime(), timeZone).date });
        return decided.kind === 'refused' ? decided : ((await refuseStale(db, shopId, act, seen, timeZone)) ?? decided);
      },
      versionOf: () => SHOP_EVENT_VERSION,
      project: async (db, events) => {
        for (const event of events) await projectShopEvent(db, shopId, event);
      },
      row: () => Promise.resolve(null),
      drop: () => undefined,
    },
  );
  const outcome = onlyOutcome(kept);
  if (outcome.kind === 'kept') announce?.(SHOP_STREAM, outcome.last);
  return outcome;
}

async function decideShopAct(act: ShopAct, scene: ShopScene): Promise<Result<readonly ShopAct[]>> {
  const least = SHOP_ACT_ROLES[act.type];
  if (!isAtLeast(scene.role, least))
    return refuse('notPermitted', least === 'lead' ? 'Only the lead does this.' : 'A technician or the lead does this.');
  const decider = DECIDE[act.type] as (act: ShopAct, scene: ShopScene) => Promise<Refusal | null>;
  return (await decider(act, scene)) ?? answer([act]);
}

/**
 * Refuses an act that puts something in the place of what its sender had not seen, with what became of it meanwhile.
 * @param seen position up to which the sender had seen the shop; undefined where no person and no screen stands behind the act
 */
async function refuseStale(
  db: Queryable,
  shopId: string,
  act: ShopAct,
  seen: number | undefined,
  timeZone: string,
): Promise<Refusal | null> {
  const asked = touchOf(act);
  if (seen === undefined || !asked?.replaces) return null;
  // one who saw more than there is saw a log that was restored since: nothing of this one
  const from = seen > (await findTail(db, shopId)) ? 0 : seen;
  // of one who saw nothing the shop's own stream is enough: the log of all jobs may be long
  const types = from > 0 && act.type === 'module.released' ? ['module.dropped'] : [];
  const since = await readSince(db, shopId, from, { stream: SHOP_STREAM, types });
  const changes = since.flatMap((event) => {
    const touch = touchOfEvent(event);
    return touch?.thing === asked.thing ? [{ event, said: touch.said }] : [];
  });
  if (changes.length === 0) return null;
  const told = changes.slice(-MOST_TOLD).map(({ event: { at, by }, said }) => {
    const { date, time } = localTime(Date.parse(at), timeZone);
    return `${said} (${by.toUpperCase()}, ${date} ${time})`;
  });
  return refuse('gone', `Changed since this was opened: ${told.join('; ')}. Look at how it stands now, and say it again.`, ['seen']);
}

function touchOfEvent({ type, body }: ChainedEvent): Touch | null {
  if (type === 'module.dropped') return touchOfDrop((body as { moduleId: string }).moduleId);
  return touchOf({ type, body } as ShopAct);
}

/** What a kept event of the shop changes in its tables; also run by a remake. */
export async function projectShopEvent(db: Queryable, shopId: string, event: ChainedEvent): Promise<void> {
  const project = PROJECT[event.type as ShopActType] as ((body: unknown, scene: ShopTables) => Promise<void>) | undefined;
  if (!project || event.version > SHOP_EVENT_VERSION)
    throw new Error(`this application is too old for event ${event.number} of the shop, ${event.type} version ${event.version}`);
  await project(event.body, { db, shopId });
}
