/** What a demonstration has besides: accounts at its door, and simulated instruments on its bench. */
import type { DemoAccount } from '@estuarine/contract';
import type pg from 'pg';
import { findGear } from '../gear/store.ts';
import type { Bench } from '../instruments/bench.ts';
import type { JobStates } from '../jobs/job-states.ts';
import { DEMO_ACCOUNTS } from './accounts.ts';
import { attachPractice } from './instruments.ts';

export interface Practice {
  readonly accounts: readonly DemoAccount[];
  readonly start: (bench: Bench) => Promise<void>;
}

export function createPractice(pool: pg.Pool, shopId: string, clock: () => Date, states: JobStates): Practice {
  return {
    accounts: DEMO_ACCOUNTS,
    start: (bench) =>
      attachPractice(bench, {
        clock,
        findJob: async (jobId) => {
          const job = await states.look(pool, jobId);
          return job && { profile: job.profile, ...job.state.isolate, airFound: job.state.cool.found };
        },
        findOutputVolt: async (gearId) => {
          const row = await findGear(pool, shopId, gearId);
          return row?.gear.kind === 'provingUnit' ? row.gear.outputVolt : null;
        },
      }),
  };
}
