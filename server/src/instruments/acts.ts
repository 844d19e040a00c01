/** Acts on the bench instruments of the shop. */
import { refuse } from '@estuarine/core';
import type { ShopRoom } from '../log/shop-room.ts';
import { findLatestPolicy } from '../policy/store.ts';
import { deleteInstrument, findInstrument, saveInstrument } from './store.ts';

const LOOPBACK = /^(127\.\d{1,3}\.\d{1,3}\.\d{1,3}|localhost|::1)$/;
/** Addresses of a private network (RFC 1918, RFC 4193). Never a name, which could lead anywhere. */
const PRIVATE = /^(10\.\d{1,3}|192\.168|172\.(1[6-9]|2\d|3[01]))\.\d{1,3}\.\d{1,3}$|^f[cd][0-9a-f]{2}:[0-9a-f:]+$/i;

export const instrumentRoom: ShopRoom<'instrument.saved' | 'instrument.removed'> = {
  decide: {
    'instrument.saved': async ({ body: { host } }, { db, shopId }) => {
      if (LOOPBACK.test(host)) return null;
      if (!PRIVATE.test(host))
        return refuse(
          'notPermitted',
          `${host} is no address of this machine or of a private network. Instruments are never further away.`,
          ['body', 'host'],
        );
      const policy = (await findLatestPolicy(db, shopId))?.policy;
      if (policy?.isolation.allowsNetworkInstruments) return null;
      return refuse(
        'notPermitted',
        'Instruments on the network are not allowed by the limits of the shop; the lead can allow them there.',
        ['body', 'host'],
      );
    },
    'instrument.removed': async ({ body }, { db, shopId }) =>
      (await findInstrument(db, shopId, body.instrumentId))
        ? null
        : refuse('unknownName', 'There is no such instrument.', ['body', 'instrumentId']),
  },
  project: {
    'instrument.saved': (body, { db, shopId }) => saveInstrument(db, shopId, body),
    'instrument.removed': (body, { db, shopId }) => deleteInstrument(db, shopId, body.instrumentId),
  },
};
