/** Acts that publish suppliers' conditions. */
import { refuse } from '@estuarine/core';
import type { ShopRoom } from '../log/shop-room.ts';
import { findTerms, saveTerms } from './store.ts';

export const termsRoom: ShopRoom<'terms.published'> = {
  decide: {
    'terms.published': async ({ body: { terms } }, { db, shopId }) =>
      (await findTerms(db, shopId, terms.id, terms.version))
        ? refuse('taken', `Version ${terms.version} of the conditions of ${terms.supplier} stands already; give the next version.`, [
            'body',
            'terms',
            'version',
          ])
        : null,
  },
  project: { 'terms.published': (body, { db, shopId }) => saveTerms(db, shopId, body.terms) },
};
