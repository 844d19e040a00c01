import { findEntries, findEntry, GROUPS, REGISTRY } from './index.ts';

describe('the registry', () => {
  it('names each calculation once', () => {
    expect(new Set(REGISTRY.map((e) => e.name)).size).toBe(REGISTRY.length);
    expect(REGISTRY.length).toBeGreaterThanOrEqual(16);
  });

  it('puts every calculation into a group, under a short title of its own, where a search finds it', () => {
    for (const { name, title, group } of REGISTRY) {
      expect(GROUPS).toContain(group);
      expect([name, title.length <= 30]).toEqual([name, true]);
      expect(findEntries(title.toUpperCase()).map((e) => e.name)).toContain(name);
    }
    expect(new Set(REGISTRY.map((e) => e.title)).size).toBe(REGISTRY.length);
    expect(findEntries('1910.137 no such words')).toEqual([]);
    expect(findEntries('').length).toBe(REGISTRY.length);
    expect(findEntries('extension wrench').map((e) => e.name)).toEqual(['torque.extension']);
  });

  it.each(REGISTRY.map((e) => e.name))('%s answers as its schema says', (name) => {
    const entry = findEntry(name);
    const result = entry?.run(entry.example);
    if (result?.kind !== 'answer') throw new Error(result?.message);
    expect(entry?.output.safeParse(result.value)).toMatchObject({ success: true });
  });

  it.each(REGISTRY.map((e) => e.name))('%s refuses a wrong type, a field too many and nothing at all, with a path', (name) => {
    const entry = findEntry(name);
    expect(entry?.run(undefined)).toMatchObject({ kind: 'refused' });
    expect(entry?.run({ ...(entry?.example as object), surplus: 1 })).toMatchObject({ kind: 'refused' });
    const first = Object.keys(entry?.example as object)[0] ?? '';
    expect(entry?.run({ ...(entry?.example as object), [first]: { not: 'this' } })).toMatchObject({
      kind: 'refused',
      path: expect.arrayContaining([first]),
    });
  });

  it('asks for a chemistry or parameters, not both', () => {
    const parameters = { E0: 1, R: 0.01, K: 0.01, A: 0.1, B: 2, Q: 5 };
    expect(findEntry('cell.voltage')?.run({ parameters, ampere: 0, ampereHourDrawn: 0 })).toMatchObject({ kind: 'answer' });
    expect(findEntry('cell.voltage')?.run({ chemistry: 'nimh', parameters, ampere: 0, ampereHourDrawn: 0 })).toMatchObject({
      path: ['chemistry'],
    });
  });
});
