/** Acts that publish profiles. */
import { checkProfile, refuse } from '@estuarine/core';
import type { ShopRoom } from '../log/shop-room.ts';
import { findProfile, saveProfile } from './store.ts';

export const profileRoom: ShopRoom<'profile.published'> = {
  decide: {
    'profile.published': async ({ body: { profile } }, { db, shopId }) => {
      const checked = checkProfile(profile);
      if (checked.kind === 'refused') return refuse(checked.code, checked.message, ['body', 'profile', ...checked.path]);
      if (!(await findProfile(db, shopId, profile.id, profile.version))) return null;
      return refuse('taken', `${profile.name} version ${profile.version} stands already; give the next version.`, [
        'body',
        'profile',
        'version',
      ]);
    },
  },
  project: { 'profile.published': (body, { db, shopId }) => saveProfile(db, shopId, body.profile) },
};
