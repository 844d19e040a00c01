/** Events of every usual kind in the proportions of a long job, from a fixed seed: what a fold is measured with. */
import { PROOF_ENTRIES } from '../isolate/proof.ts';
import type { Act, JobEvent } from '../job/frame/acts.ts';
import type { Fact } from '../pack/fact.ts';
import type { Profile } from '../pack/profile.ts';
import { createGenerator } from '../random/generator.ts';

const START = Date.UTC(2026, 4, 4, 8);

export function mixedEvents(profile: Profile, count: number): JobEvent[] {
  const generator = createGenerator(11);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(generator.next() * list.length)] as T;
  const events: JobEvent[] = [];
  const add = (act: Act): string => {
    const number = events.length + 1;
    const at = new Date(START + number * 4000).toISOString();
    events.push({ number, commandId: `c${number}`, by: pick(['om', 'ts', 'jf']), at, deviceAt: at, ...act });
    return `c${number}`;
  };
  const moduleIds = Array.from({ length: profile.moduleCount }, (_, i) => `m${i + 1}`);
  add({
    type: 'job.opened',
    body: {
      ...{ number: 1, kind: 'wholeRepair', profileId: profile.id, profileVersion: profile.version, policyVersion: 1 },
      ...{ vehicle: { id: 'v', hash: '0'.repeat(64) }, customer: null, comebackOf: null, moduleIds },
    },
  });
  const facts: Fact[] = [...profile.procedure.map((p) => p.fact), { kind: 'links', links: [3], areOpen: true }];
  let sweepId = '';
  let proofId = '';
  while (events.length < count) {
    const roll = generator.next();
    if (sweepId === '' || roll < 0.01) {
      const how = { restSince: null, restHour: null, loadAmpere: null, loadSecond: null, recovered: 'all' as const, resolution: 0.001 };
      sweepId = add({ type: 'sweep.started', body: { kind: 'openCircuit', ...how } });
    } else if (proofId === '' || roll < 0.02) {
      const point = profile.isolation.point;
      const known = { lowVolt: 9, highVolt: 16 };
      proofId = add({
        type: 'proof.started',
        body: { meterId: 'M-02', source: 'battery', sourceId: null, point, known, limitVolt: 30, resolutionVolt: 0.1 },
      });
    } else if (roll < 0.15) add({ type: 'fact.stated', body: { stage: 'open', fact: pick(facts) } });
    else if (roll < 0.45) {
      const part = pick(profile.parts);
      const [from, to] = [{ kind: 'inPlace' }, { kind: 'tray', cell: 'B3' }] as const;
      add({ type: 'part.moved', body: { stage: 'strip', partId: part.id, count: 1, from, to, condition: 'good' } });
    } else if (roll < 0.52) add({ type: 'proof.read', body: { proofId, entry: pick(PROOF_ENTRIES), volt: 12.1, isFromMeter: false } });
    else if (roll < 0.55)
      add({
        type: 'finding.noted',
        body: {
          ...{ stage: 'open', kind: 'corrosion', severity: 'slight', follow: 'clean', isOnArrival: false },
          ...{ pin: { on: 'link', link: 3 }, note: 'green at the nut' },
        },
      });
    else if (roll < 0.56) add({ type: 'step.done', body: { stepId: 'secondPerson', note: '' } });
    else {
      const place = 1 + Math.floor(generator.next() * profile.moduleCount);
      const value = Math.round(7800 + 100 * generator.next()) / 1000;
      add({ type: 'reading.taken', body: { sweepId, place, moduleId: `m${place}`, quantity: 'openCircuitVolt', value } });
    }
  }
  return events;
}
