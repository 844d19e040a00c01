/** Acts that set the limits of the shop. */
import { refuse } from '@estuarine/core';
import type { ShopRoom } from '../log/shop-room.ts';
import { findLatestPolicy, savePolicy } from './store.ts';

export const policyRoom: ShopRoom<'policy.set'> = {
  decide: {
    'policy.set': async ({ body }, { db, shopId, role }) => {
      const standing = await findLatestPolicy(db, shopId);
      const latest = standing?.version ?? 0;
      const isHazard = JSON.stringify(standing?.policy.isolation) !== JSON.stringify(body.policy.isolation);
      if (isHazard && standing && role !== 'lead')
        return refuse('notPermitted', 'Only the lead changes what isolation asks for.', ['body', 'policy', 'isolation']);
      if (body.version === latest + 1) return null;
      return refuse('gone', `The limits were changed meanwhile: version ${latest} stands. Look at it and set them again.`, [
        'body',
        'version',
      ]);
    },
  },
  project: { 'policy.set': (body, { db, shopId }) => savePolicy(db, shopId, body.version, body.policy) },
};
