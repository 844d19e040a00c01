import { findHindrance, whyNotInPack, whyNotTake, type Whereabouts } from './taking.ts';

const free: Whereabouts = { moduleId: 'S1', typeId: 'nimh-6', quarantine: null, reservedBy: null, inJob: null };
const taker = { job: 'a', typeId: 'nimh-6' };

describe('taking a module from the shelf', () => {
  it.each<[string, Partial<Whereabouts>, string | null]>([
    ['free', {}, null],
    ['reserved by the taker', { reservedBy: 'a' }, null],
    ['reserved by another job', { reservedBy: 'b' }, 'reserved'],
    ['in quarantine', { quarantine: 'bulged' }, 'quarantined'],
    ['of another type', { typeId: 'liion-4' }, 'otherType'],
    ['in a pack', { inJob: 'b' }, 'inPack'],
    ['in the taker’s own pack', { inJob: 'a' }, 'inPack'],
  ])('one that is %s', (_what, change, hindrance) => {
    const module = { ...free, ...change };
    expect(findHindrance(module, taker)).toBe(hindrance);
    const why = whyNotTake(module, taker, 7);
    if (hindrance === null) expect(why).toBeNull();
    else expect(why).toContain('S1');
  });
  it('names the job that has it', () => {
    expect(whyNotTake({ ...free, reservedBy: 'b' }, taker, 7)).toContain('job 7');
  });
});

describe('opening a job with a module in its pack', () => {
  it.each<[string, Partial<Whereabouts> & { isJobClosed?: boolean }, RegExp | null]>([
    ['unknown elsewhere', {}, null],
    ['in the pack of an open job', { inJob: 'b' }, /another job's pack/],
    ['in the pack of a closed job, come back', { inJob: 'b', isJobClosed: true }, null],
    ['reserved by another job', { reservedBy: 'b' }, /reserved by another job/],
    ['of another type', { typeId: 'liion-4' }, /another type/],
    ['in quarantine: it is there all the same', { quarantine: 'bulged' }, null],
  ])('%s', (_what, change, why) => {
    const said = whyNotInPack({ ...free, isJobClosed: false, ...change }, taker);
    if (why) expect(said).toMatch(why);
    else expect(said).toBeNull();
  });
});
