/** How older openings of a job are read. Never changed once released; each has its frozen fixture. */
import type { Upgrades } from '../upgrade.ts';
import type { INTAKE } from './acts.ts';

/** No row carries this hash: what version 1 said of the vehicle stands in its own text. */
export const NO_HASH = '0'.repeat(64);

export const INTAKE_UPGRADES: Upgrades<typeof INTAKE> = {
  'job.opened': [
    // version 1 had the vehicle in its text, knew one kind of job, and named all modules; the row is called after the job
    {
      adds: ['kind', 'customer', 'comebackOf'],
      bring: ({ vehicle: _, ...rest }, stream) => ({
        ...rest,
        kind: 'wholeRepair',
        vehicle: { id: stream, hash: NO_HASH },
        customer: null,
        comebackOf: null,
      }),
    },
  ],
};
