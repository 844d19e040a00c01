import { shippedProfile } from '../../test/job-fixture.ts';
import { plugWords } from './plug-words.ts';

const wordsOf = (id: string): ReturnType<typeof plugWords> => plugWords(shippedProfile(id));

describe('what is said of a plug', () => {
  it('comes out and is kept somewhere, or is parked where the pack has a place for it', () => {
    expect(wordsOf('dunlin-28')).toMatchObject({ title: 'Service plug out, into custody', isOut: 'The service plug is out' });
    expect(wordsOf('curlew-42').title).toBe('Round plug out, parked in the second socket beside its own');
    expect(wordsOf('curlew-42').keptIn[0]).toBe('second socket beside its own');
  });

  it('turns a switch off, which is carried nowhere', () => {
    const words = wordsOf('avocet-12');
    expect(words.title).toBe('Main switch off, held by a lock or a tag');
    expect(words.states).toEqual({ latched: 'On', loose: 'On, not latched', out: 'Off' });
    expect(JSON.stringify(words)).not.toMatch(/custody|pocket|main fuse/);
  });

  it('speaks of no main fuse under a plug that only signals', () => {
    expect(wordsOf('greenshank-28').caution).not.toContain('fuse');
    expect(wordsOf('dunlin-28').caution).toContain('main fuse');
  });
});
