/** One act of every type on a job that takes them all, for walks of every act by every role. */
import { ACT_TYPES, type Act, type ActType } from '../src/job/frame/acts.ts';
import { SAMPLE_JOB, sampleOf } from '../src/job/frame/said.ts';
import { Recorder } from './job-fixture.ts';

export interface Walked {
  readonly job: Recorder;
  readonly acts: { readonly [T in ActType]: Extract<Act, { type: T }> };
}

/** A job on which a person with every right could do each of these, and the acts. */
export function everyAct(): Walked {
  const job = new Recorder();
  for (const act of SAMPLE_JOB) job.add(act, act.type === 'word.passed' ? 'ts' : 'om');
  return { job, acts: Object.fromEntries(ACT_TYPES.map((type) => [type, sampleOf(type)])) as unknown as Walked['acts'] };
}
