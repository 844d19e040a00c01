import { readFileSync } from 'node:fs';
import path from 'node:path';
import { profileSchema, type Profile } from '@estuarine/core';

/** The shipped profile, for specs. */
export function testProfile(): Profile {
  return profileSchema.parse(JSON.parse(readFileSync(path.resolve(process.cwd(), 'core/profiles/dunlin-28.json'), 'utf8')));
}
