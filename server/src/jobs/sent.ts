/** Acts as devices stored them, read as today's: brought up from their version, then checked. */
import type { Papers, SentAct } from '@estuarine/contract';
import { actSchema, findSurplus, isActType, upgradeBody, vehicleSchema, versionOf, type Act } from '@estuarine/core';
import { HttpProblem, problemOfIssue } from '../problem.ts';

export interface ReadAct {
  readonly act: Act;
  /** What identifies the act, see `AppendRequest.given`. */
  readonly given: readonly [Readonly<Record<string, unknown>>, ...Readonly<Record<string, unknown>>[]];
  /** What is written of vehicle and customer; null where the act neither opens a job nor corrects that. */
  readonly papers: Papers | null;
}

/** Reads what a device sent. Throws 422 with the place for what does not fit, 503 for what a later release stored. */
export function readSent(sent: SentAct, jobId: string): ReadAct {
  const { act: raw, version } = sent;
  if (!isActType(raw.type)) throw new HttpProblem(422, 'schema', `There is no act "${raw.type}". Nothing was kept.`, ['act', 'type']);
  const surplus = findSurplus({ ...raw, version });
  if (surplus)
    throw new HttpProblem(422, 'schema', `A ${raw.type} of version ${version} says no "${surplus.at(-1)}". Nothing was kept.`, [
      'act',
      'body',
      ...surplus,
    ]);
  let body: unknown;
  try {
    const upgraded = upgradeBody({ ...raw, version }, jobId);
    if (upgraded.kind === 'refused') throw new HttpProblem(503, upgraded.code, upgraded.message, ['version']);
    body = upgraded.value;
  } catch (error) {
    if (error instanceof HttpProblem) throw error;
    throw new HttpProblem(422, 'schema', `This is no ${raw.type} of version ${version}. Nothing was kept.`, ['act', 'body']);
  }
  const parsed = actSchema.safeParse({ type: raw.type, body });
  if (!parsed.success) throw problemOfIssue(parsed.error.issues[0], 'act');
  const act = parsed.data;
  // releases before versions were written hashed the act as they had read it
  const isAsBefore = version === 1 && versionOf(act) === 1;
  const given = version === 1 ? { act: raw } : { act: raw, version };
  return { act, given: isAsBefore ? [given, { act }] : [given], papers: findPapers(sent, act) };
}

/** Version 1 of an opening carried the vehicle in its body. */
function findPapers({ papers, version, act: raw }: SentAct, act: Act): Papers | null {
  if (act.type !== 'job.opened' && act.type !== 'papers.corrected') return null;
  if (version > 1 || act.type === 'papers.corrected') {
    if (!papers) throw new HttpProblem(422, 'schema', 'Say which vehicle it is. Nothing was kept.', ['papers']);
    if ((papers.customer === null) !== (act.body.customer === null))
      throw new HttpProblem(422, 'mismatch', 'The act and its papers differ on whether there is a customer.', ['papers', 'customer']);
    return papers;
  }
  const vehicle = vehicleSchema.safeParse(raw.body.vehicle);
  if (!vehicle.success) throw new HttpProblem(422, 'schema', 'The vehicle does not fit. Nothing was kept.', ['act', 'body', 'vehicle']);
  return { vehicle: vehicle.data, customer: null };
}
