/** How older bodies of isolation are read. Never changed once released; each has its frozen fixture. */
import type { Upgrades } from '../upgrade.ts';
import type { ISOLATE } from './acts.ts';

export const ISOLATE_UPGRADES: Upgrades<typeof ISOLATE> = {
  // version 1 said the point in words alone, and proved the car side by it
  'proof.started': [{ adds: [], bring: ({ point, ...rest }) => ({ ...rest, point: { at: 'carSide', label: point } }) }],
};
