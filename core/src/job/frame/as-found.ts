import type { JobState } from './state.ts';

/** What sat at each place when the job was opened; null where nobody named it. */
export function idsAsFound({ open, sweep }: Pick<JobState, 'open' | 'sweep'>): (string | null)[] {
  return sweep.keys.map((keys, i) => {
    const first = keys.find((key) => !key.startsWith('?'));
    if (first === undefined) return null;
    // the history begins behind the opening: who came once more often than it tells was there from the first
    const came = open.history.filter((h) => h.place === i + 1 && h.moduleId === first).length;
    return keys.filter((key) => key === first).length > came ? first : null;
  });
}
