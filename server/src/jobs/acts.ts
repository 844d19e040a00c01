/** Acts on a job: decided on its folded state, kept in its stream, and shown in the cross-job tables. */
import type { SentAct } from '@estuarine/contract';
import { refuse, versionOf, type DeviceWord } from '@estuarine/core';
import { keepActs, type ActOutcome } from '../log/append.ts';
import type { Outcome } from '../log/store.ts';
import { HttpProblem } from '../problem.ts';
import type { Actor } from '../persons/principals.ts';
import type { AskedOfJob, JobActs, SignedAct } from './asked.ts';
import { noProof } from './plan-proof.ts';
import { readSent } from './sent.ts';
import { JobTransaction } from './transaction.ts';

/** Keeps one act of a person on a job. Throws a problem for what cannot be read. */
export async function keepJobAct(jobs: JobActs, jobId: string, sent: SentAct, actor: Actor): Promise<Outcome> {
  const [outcome] = await keepJobActs(jobs, jobId, [{ sent, read: readSent(sent, jobId), actor, forwardedBy: null, passedFor: null }]);
  if (outcome instanceof HttpProblem) throw outcome;
  return outcome ?? refuse('gone', 'Nothing was asked.');
}

/** Keeps acts on one job in order, all in one transaction, each with its own outcome. */
export async function keepJobActs(jobs: JobActs, jobId: string, acts: readonly SignedAct[]): Promise<readonly ActOutcome[]> {
  const asked: AskedOfJob[] = [];
  for (const came of acts) {
    const act = asPassed(came);
    const { read } = act;
    const proof = read.act.type === 'plan.chosen' && jobs.prove ? await jobs.prove(jobId, read.act.body) : noProof;
    asked.push({ ...act, jobId, device: deviceOf(act.sent), proof });
  }
  return jobs.states.inTurn(jobId, () => keepInTurn(jobs, jobId, asked));
}

async function keepInTurn(jobs: JobActs, jobId: string, asked: readonly AskedOfJob[]): Promise<readonly ActOutcome[]> {
  const { pool, shopId, clock } = jobs;
  const transaction = new JobTransaction(jobs, jobId, asked);
  const request = {
    ...{ shopId, stream: jobId, clock, opens: asked.some(({ read }) => read.act.type === 'job.opened') },
    acts: asked.map(({ sent: { commandId, by, deviceAt }, read, actor, forwardedBy, device }) => ({
      ...{ commandId, by, keptBy: actor.id, forwardedBy, deviceAt, device, given: read.given },
    })),
  };
  const { outcomes, place } = await keepActs(pool, request, transaction);
  if (place) transaction.end(place);
  for (const outcome of outcomes) if (!(outcome instanceof HttpProblem) && outcome.kind === 'kept') jobs.announce?.(jobId, outcome.last);
  return outcomes;
}

/** What is sent in another's name and nothing proves is kept as heard: the word of whoever sends it. */
function asPassed(act: SignedAct): SignedAct {
  const { sent, read, passedFor } = act;
  if (passedFor === null) return act;
  const { commandId, deviceAt } = sent;
  const { type, body } = read.act;
  const said = { commandId, deviceAt, device: deviceOf(sent), type, version: versionOf(read.act), body: { ...body } };
  return { ...act, read: { ...read, act: { type: 'word.passed', body: { of: passedFor, said } } } };
}

function deviceOf({ device, commandId }: SentAct): DeviceWord {
  return device ?? unsureDevice(commandId);
}

/**
 * What an act that names no device is kept with: nothing tells when it was said but that it was before it came, so that of two such words
 * on one thing neither is the later. What older releases kept without a device reads as it did.
 */
function unsureDevice(commandId: string): DeviceWord {
  return { id: `act ${commandId}`.slice(0, 64), isClockSure: false, turn: 0 };
}
