/** Acts that erase what is written of vehicles and their owners. */
import { refuse, type Refusal } from '@estuarine/core';
import type { ShopRoom, ShopScene } from '../log/shop-room.ts';
import { eraseRecordsOf } from '../seal/records.ts';
import { erasePaper, hasPaper, type Paper } from './store.ts';

export const customerRoom: ShopRoom<'vehicle.erased' | 'customer.erased'> = {
  decide: {
    'vehicle.erased': ({ body }, scene) => refuseUnknown('vehicle', body.vehicleId, 'vehicleId', scene),
    'customer.erased': ({ body }, scene) => refuseUnknown('customer', body.customerId, 'customerId', scene),
  },
  project: {
    'vehicle.erased': async (body, { db, shopId }) => {
      await erasePaper(db, shopId, 'vehicle', body.vehicleId);
      await eraseRecordsOf(db, shopId, body.vehicleId);
    },
    'customer.erased': (body, { db, shopId }) => erasePaper(db, shopId, 'customer', body.customerId),
  },
};

async function refuseUnknown(paper: Paper, id: string, field: string, { db, shopId }: ShopScene): Promise<Refusal | null> {
  return (await hasPaper(db, shopId, paper, id)) ? null : refuse('unknownName', `The shop has no ${paper} of that id.`, ['body', field]);
}
