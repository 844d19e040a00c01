/** How older readings are read. Never changed once released; each has its frozen fixture. */
import type { Upgrades } from '../upgrade.ts';
import type { SWEEP } from './acts.ts';

export const SWEEP_UPGRADES: Upgrades<typeof SWEEP> = {
  // version 1 counted for the place, whatever module it named
  'reading.taken': [{ adds: [], bring: (body) => ({ ...body, moduleId: null }) }],
  // version 1 asked for the voltage after the load of every module
  'sweep.started': [{ adds: ['recovered'], bring: (body) => ({ ...body, recovered: 'all' }) }],
  'readings.imported': [
    {
      adds: ['sweeps.*.recovered'],
      bring: (body) => ({ ...body, sweeps: (body.sweeps as readonly object[]).map((sweep) => ({ ...sweep, recovered: 'all' })) }),
    },
    // version 2 took a file for measured when it was kept
    { adds: ['measured'], bring: (body) => ({ ...body, measured: 'asKept' }) },
  ],
};
