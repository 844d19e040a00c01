/** What is asked of a job, and what there is to answer it with. */
import type { SentAct } from '@estuarine/contract';
import type { DeviceWord } from '@estuarine/core';
import type pg from 'pg';
import type { Answerer } from '../persons/principals.ts';
import type { References } from '../profiles/references.ts';
import type { JobStates } from './job-states.ts';
import type { PlanProver, ProvenRange } from './plan-proof.ts';
import type { ReadAct } from './sent.ts';

export interface JobActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
  readonly states: JobStates;
  readonly references: References;
  /** Told of what was kept, after the commit; left out where nobody listens. */
  readonly announce?: (stream: string, head: number) => void;
  /** Proves the range of a plan before its job is locked; without one nothing is proven. */
  readonly prove?: PlanProver;
}

/** An act with whoever answers for it. */
export interface SignedAct extends Answerer {
  readonly sent: SentAct;
  readonly read: ReadAct;
}

/** What is at hand while one act is decided. */
export interface AskedOfJob extends SignedAct {
  readonly jobId: string;
  readonly device: DeviceWord;
  readonly proof: ProvenRange;
}
