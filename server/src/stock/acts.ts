/** Acts on the shelf. */
import { refuse, refuseStock, type Refusal } from '@estuarine/core';
import type { ShopRoom, ShopScene } from '../log/shop-room.ts';
import { listProfiles } from '../profiles/store.ts';
import { hasModule, saveModules, setQuarantine } from './store.ts';

export const stockRoom: ShopRoom<'stock.imported' | 'module.quarantined' | 'module.released'> = {
  decide: {
    'stock.imported': async ({ body }, { db, shopId }) => {
      const seen = new Set<string>();
      for (const [i, { moduleId }] of body.modules.entries()) {
        if (seen.has(moduleId)) return refuse('mismatch', `Module ${moduleId} stands twice.`, ['body', 'modules', i]);
        seen.add(moduleId);
      }
      const types = new Map((await listProfiles(db, shopId)).map((p) => [p.moduleType.id, p.moduleType]));
      return refuseStock(body.modules, (id) => types.get(id) ?? null);
    },
    'module.quarantined': ({ body }, scene) => refuseUnknown(body.moduleId, scene),
    'module.released': ({ body }, scene) => refuseUnknown(body.moduleId, scene),
  },
  project: {
    'stock.imported': (body, { db, shopId }) => saveModules(db, shopId, body.modules),
    'module.quarantined': (body, { db, shopId }) => setQuarantine(db, shopId, body.moduleId, body.reason),
    'module.released': (body, { db, shopId }) => setQuarantine(db, shopId, body.moduleId, null),
  },
};

async function refuseUnknown(moduleId: string, { db, shopId }: ShopScene): Promise<Refusal | null> {
  return (await hasModule(db, shopId, moduleId))
    ? null
    : refuse('unknownName', `There is no module ${moduleId} in this shop.`, ['body', 'moduleId']);
}
