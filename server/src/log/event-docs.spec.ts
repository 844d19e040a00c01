import { readFileSync } from 'node:fs';
import { REFUSALS } from '@estuarine/core';
import { eventDocs, profileJsonSchema } from './event-docs.ts';

const page = readFileSync(new URL('../../../docs/events.md', import.meta.url), 'utf8');

it('docs/events.md is as `npm run docs` would write it', () => {
  expect(page).toBe(eventDocs());
});

it('the JSON Schema of profiles is as it would be written', () => {
  expect(readFileSync(new URL('../../../core/profiles/profile.schema.json', import.meta.url), 'utf8')).toBe(profileJsonSchema());
});

it.each(Object.keys(REFUSALS))('names the refusal %s', (code) => {
  expect(page).toContain(`| \`${code}\` |`);
});
