/** Acts of the shop: decided, kept in the shop's stream, and shown in its tables. */
import { SHOP_STREAM, type SentShopAct } from '@estuarine/contract';
import { answer, checkProfile, refuse, type Result, type Role, type ShopAct } from '@estuarine/core';
import type pg from 'pg';
import type { Queryable } from '../database/database.ts';
import { keepAct } from '../log/append.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { Outcome } from '../log/store.ts';
import * as store from './store.ts';

export interface ShopActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
}

export async function keepShopAct(shop: ShopActs, sent: SentShopAct, role: Role): Promise<Outcome> {
  const { pool, shopId, clock } = shop;
  return keepAct(
    pool,
    { shopId, stream: SHOP_STREAM, commandId: sent.commandId, by: sent.by, deviceAt: sent.deviceAt, act: sent.act, clock, opens: true },
    {
      decide: (client) => decideShopAct(client, shopId, sent.act, role),
      project: async (client, events) => {
        for (const event of events) await projectShopEvent(client, shopId, event);
      },
    },
  );
}

async function decideShopAct(db: Queryable, shopId: string, act: ShopAct, role: Role): Promise<Result<readonly ShopAct[]>> {
  switch (act.type) {
    case 'stock.imported': {
      const seen = new Set<string>();
      for (const [i, { moduleId }] of act.body.modules.entries()) {
        if (seen.has(moduleId)) return refuse('mismatch', `Module ${moduleId} stands twice.`, ['body', 'modules', i]);
        seen.add(moduleId);
      }
      return answer([act]);
    }
    case 'module.quarantined':
    case 'module.released': {
      const { moduleId } = act.body;
      return (await store.findModuleState(db, shopId, moduleId))
        ? answer([act])
        : refuse('unknownName', `There is no module ${moduleId} in this shop.`, ['body', 'moduleId']);
    }
    case 'policy.set': {
      if (role === 'apprentice') return refuse('notPermitted', 'A technician or the lead sets the limits of the shop.');
      const latest = (await store.findLatestPolicy(db, shopId))?.version ?? 0;
      return act.body.version === latest + 1
        ? answer([act])
        : refuse('gone', `The limits were changed meanwhile: version ${latest} stands. Look at it and set them again.`, [
            'body',
            'version',
          ]);
    }
    case 'profile.published': {
      if (role === 'apprentice') return refuse('notPermitted', 'A technician or the lead publishes a profile.');
      const { profile } = act.body;
      const checked = checkProfile(profile);
      if (checked.kind === 'refused') return refuse(checked.code, checked.message, ['body', 'profile', ...checked.path]);
      return (await store.findProfile(db, shopId, profile.id, profile.version))
        ? refuse('taken', `${profile.name} version ${profile.version} stands already; give the next version.`, [
            'body',
            'profile',
            'version',
          ])
        : answer([act]);
    }
  }
}

/** What a kept event of the shop changes in its tables; also run by a rebuild. */
export async function projectShopEvent(db: Queryable, shopId: string, event: ChainedEvent): Promise<void> {
  const act = { type: event.type, body: event.body } as ShopAct;
  switch (act.type) {
    case 'stock.imported':
      return store.saveModules(db, shopId, act.body.modules);
    case 'module.quarantined':
      return store.setQuarantine(db, shopId, act.body.moduleId, act.body.reason);
    case 'module.released':
      return store.setQuarantine(db, shopId, act.body.moduleId, null);
    case 'policy.set':
      return store.savePolicy(db, shopId, act.body.version, act.body.policy);
    case 'profile.published':
      return store.saveProfile(db, shopId, act.body.profile);
  }
}
