/** Writes docs/events.md and the JSON Schema of profiles. */
import { writeFileSync } from 'node:fs';
import { eventDocs, profileJsonSchema } from './event-docs.ts';

writeFileSync(new URL('../../../docs/events.md', import.meta.url), eventDocs());
writeFileSync(new URL('../../../core/profiles/profile.schema.json', import.meta.url), profileJsonSchema());
