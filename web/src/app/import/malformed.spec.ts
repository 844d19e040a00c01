import { readFileSync } from 'node:fs';
import path from 'node:path';
import { MalformedFiles } from '../../test/malformed-files.ts';

// more of them: npm run trials
it('reads a malformed file whole or refuses it with its reason, and lets nothing impossible through', () => {
  const profile = JSON.parse(readFileSync(path.resolve(process.cwd(), 'core/profiles/dunlin-28.json'), 'utf8')) as unknown;
  const { read, refused, faults } = new MalformedFiles(profile, 7).run(60);
  expect(faults).toEqual([]);
  expect(Math.min(read, refused)).toBeGreaterThan(3);
});
