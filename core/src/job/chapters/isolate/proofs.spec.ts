import { Isolating } from '../../../../test/isolating.ts';
import { contextOf } from '../../../../test/job-fixture.ts';
import type { Act } from '../../frame/acts.ts';
import { decide } from '../../frame/decide.ts';
import { highestAtPosts, standingProof } from './proofs.ts';

const reading = (proofId: string, volt: number): Act => ({
  type: 'proof.read',
  body: { proofId, entry: 'plusMinus', volt, isFromMeter: false },
});
const standing = (job: Isolating): boolean => standingProof(job.state().isolate) !== null;

describe('readings that came before their proof', () => {
  it('are of that proof once it is told, and of no other', () => {
    const job = new Isolating().down();
    const next = (ahead: number): string => `c${job.events.length + ahead}`;
    const [own, other] = [next(3), 'never'];
    job.add(reading(own, 0.2));
    job.add(reading(other, 7));
    expect(job.state().isolate.orphans).toHaveLength(2);
    expect(job.begin()).toBe(own);
    const { proofs, orphans } = job.state().isolate;
    expect(proofs.at(-1)?.readings.map((r) => r.volt)).toEqual([0.2]);
    expect(orphans.map((r) => r.proofId)).toEqual([other]);
  });

  it('can be taken back, each by itself', () => {
    const job = new Isolating().down();
    const first = job.add(reading('p', 0.2));
    const second = job.add(reading('p', 0.3));
    job.add({ type: 'act.withdrawn', body: { commandId: first, reason: 'mistyped' } });
    expect(job.state().isolate.orphans.map((r) => r.commandId)).toEqual([second]);
  });
});

it('of a proof one reading is taken back and the others stay; signed on it, it ends', () => {
  const job = new Isolating().proven();
  const before = job.state().isolate.proofs.at(-1)?.readings ?? [];
  const taken = before[1]?.commandId ?? '';
  job.add({ type: 'act.withdrawn', body: { commandId: taken, reason: 'mistyped' } });
  const proof = job.state().isolate.proofs.at(-1);
  expect(proof?.readings.map((r) => r.commandId)).toEqual(before.filter((r) => r.commandId !== taken).map((r) => r.commandId));
  expect(proof?.lapsed?.reason).toBe('A reading of it was taken back.');
});

describe('the highest at the posts', () => {
  it('is of the last reading of each kind, by its size, the known source left out; null of none', () => {
    expect(highestAtPosts([])).toBeNull();
    expect(highestAtPosts([{ entry: 'knownBefore', volt: 12 }])).toBeNull();
    expect(
      highestAtPosts([
        { entry: 'plusMinus', volt: 300 },
        { entry: 'plusMinus', volt: 2 },
        { entry: 'minusPlus', volt: -5 },
        { entry: 'knownAfter', volt: 12 },
      ]),
    ).toBe(5);
  });
});

describe('what ends a proof of dead', () => {
  it('the relay block put back does; contactors said open while it was on do not', () => {
    const job = new Isolating().proven();
    job.say({ kind: 'contactors', are: 'open' });
    expect(standing(job)).toBe(true);
    job.say({ kind: 'contactors', are: 'takenOut' });
    expect(standing(job)).toBe(true);
    job.say({ kind: 'contactors', are: 'unknown' });
    expect(standing(job)).toBe(false);
  });

  it('a reading of another proof above the limit of the one that stands does', () => {
    const job = new Isolating().proven();
    job.add(reading('never', 61));
    expect(standing(job)).toBe(false);
  });
});

describe('a wait that was lengthened', () => {
  const lengthened = (): Isolating => {
    const job = new Isolating().down();
    job.do({ type: 'wait.lengthened', body: { minute: 5, reason: 'a cold morning' } });
    expect(job.state().isolate.lengthened).toHaveLength(1);
    return job;
  };

  it.each([
    ['the plug goes in', { kind: 'plug', isIn: true, isLatched: true }, 0],
    ['the 12 V comes on', { kind: 'twelveVolt', isOff: false }, 0],
    ['the key is moved', { kind: 'key', isAway: false }, 1],
    ['the plug is said to be out again', { kind: 'plug', isIn: false }, 1],
    ['the 12 V is said to be off again', { kind: 'twelveVolt', isOff: true }, 1],
  ] as const)('when %s', (_what, fact, left) => {
    const job = lengthened();
    job.say(fact);
    expect(job.state().isolate.lengthened).toHaveLength(left);
  });
});

describe('a signature', () => {
  const sign = (job: Isolating, proofId: string) =>
    decide(job.state(), { type: 'proof.signed', body: { proofId, until: null, breakMinute: 1 } }, contextOf(job));

  it('is refused of a proof that is signed, that a later one followed, and that is not there', () => {
    const job = new Isolating().proven();
    const first = job.state().isolate.proofs.at(-1)?.proofId ?? '';
    expect(sign(job, first)).toMatchObject({ code: 'notPermitted', message: 'This proof is signed already.' });
    const older = job.prove();
    job.begin();
    expect(sign(job, older)).toMatchObject({ code: 'gone', path: ['body', 'proofId'] });
    expect(sign(job, 'never')).toMatchObject({ code: 'gone', message: 'That proof is not on this job.', path: ['body', 'proofId'] });
  });
});

describe('handling before a proof', () => {
  const odd = (job: Isolating): string | null | undefined => job.state().facts.at(-1)?.outOfOrder;

  it('cables insulated in the car are told, and on the bench they are not', () => {
    const job = new Isolating().down();
    job.say({ kind: 'connectors', are: 'insulated' });
    expect(odd(job)).toContain('The HV cables were handled');
    job.say({ kind: 'pack', isOnBench: true });
    job.say({ kind: 'connectors', are: 'insulated' });
    expect(odd(job) ?? '').not.toContain('The HV cables were handled');
  });

  it('on the bench it is enough that dead was proven once, or that the block is off', () => {
    const bare = new Isolating().down();
    bare.say({ kind: 'pack', isOnBench: true });
    bare.say({ kind: 'case', isOpen: true });
    expect(odd(bare)).toContain('while no proof of dead stood');
    const proven = new Isolating().proven();
    proven.say({ kind: 'pack', isOnBench: true });
    proven.wait(2);
    proven.say({ kind: 'case', isOpen: true });
    expect(odd(proven) ?? '').not.toContain('while no proof of dead stood');
  });
});
