/** What a demonstration has besides: accounts at its door, and simulated instruments on its bench. */
import type { DemoAccount } from '@estuarine/contract';
import { blockPlaces, DEFAULT_POLICY, moduleIdsOf, recordModules, restingVolts, type JobState, type Profile } from '@estuarine/core';
import type pg from 'pg';
import { findGear } from '../gear/store.ts';
import type { Bench } from '../instruments/bench.ts';
import type { JobStates } from '../jobs/job-states.ts';
import { DEMO_ACCOUNTS } from './accounts.ts';
import { attachPractice, type PracticeJob } from './instruments.ts';

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
          if (!job) return null;
          const { state, profile } = job;
          return {
            ...{ profile, ...state.isolate, airFound: state.cool.found },
            ...{ car: carOf(state, profile), auxiliaryTests: state.refit.tested.length },
          };
        },
        findOutputVolt: async (gearId) => {
          const row = await findGear(pool, shopId, gearId);
          return row?.gear.kind === 'provingUnit' ? row.gear.outputVolt : null;
        },
      }),
  };
}

/** The car as its log leaves it: the modules that lie in it now, as the bench measured them. */
function carOf(state: JobState, profile: Profile): PracticeJob['car'] {
  const figures = recordModules(state, profile, DEFAULT_POLICY.limits).map((r) => r.figures);
  const now = moduleIdsOf(state);
  const fromShelf = new Set<string>(state.plan.chosen?.fromShelf ?? []);
  const isChanged = (place: number): boolean => fromShelf.has(now[place - 1] ?? '');
  const { scanned, cleared, driven } = state.refit;
  const lastCleared = cleared.at(-1)?.number ?? 0;
  const weak = scanned.flatMap((s) => s.codes).map((c) => profile.scan?.codes.find((own) => own.code === c.code)?.block ?? 0);
  return {
    moduleVolts: restingVolts(state),
    moduleMilliohm: figures.map((f) => f.resistanceMilliohm ?? null),
    moduleAh: figures.map((f) => f.capacityAh ?? null),
    // as it came it was latched; put in again it is once its last movement is told
    isPlugLatched: state.pack.isPlugIn && (state.pack.isPlugLatched ?? state.refit.touched === 0),
    // what was replaced was weak
    weakBlocks: blockPlaces(profile.blocks).flatMap(({ from, to }, i) => {
      const places = Array.from({ length: to - from + 1 }, (_, k) => from + k);
      return places.some(isChanged) || weak.includes(i + 1) ? [i + 1] : [];
    }),
    wasCleared: lastCleared > 0,
    wasDriven: driven.some((d) => d.number > lastCleared),
  };
}
