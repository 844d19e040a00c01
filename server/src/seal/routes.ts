/** The shop's keys over HTTP: published to anyone, and backed up, replaced and revoked by the lead. */
import type { KeysAnswer } from '@estuarine/contract';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { SealKeys } from './keys.ts';

const passphrase = z.string().min(12, 'A passphrase of twelve letters or more').max(200);
const reason = z.string().trim().min(8, 'A reason of eight letters or more').max(400);
const fingerprint = z.string().regex(/^[0-9a-f]{64}$/, 'the fingerprint of a key');
const params = z.object({ fingerprint });

export const sealRoutes: FastifyPluginCallbackZod<{ readonly keys: SealKeys }> = (app, { keys }, done) => {
  const answer = async (): Promise<KeysAnswer> => ({ keys: await keys.publish(), canSign: await keys.canSign() });
  const lead = { role: 'lead' } as const;

  app.get('/api/seal/keys', { config: { open: 'all' }, schema: { tags: ['seal'] } }, answer);

  // names the key that it replaces: pressed twice, or by two at once, it is done once
  app.post(
    '/api/seal/keys',
    { config: lead, schema: { tags: ['seal'], body: z.strictObject({ replaces: fingerprint }) } },
    async ({ body }) => {
      await keys.replace(body.replaces);
      return answer();
    },
  );

  app.post(
    '/api/seal/keys/:fingerprint/revoke',
    { config: lead, schema: { tags: ['seal'], params, body: z.strictObject({ reason }) } },
    async ({ params: { fingerprint }, body }) => {
      await keys.revoke(fingerprint, body.reason);
      return answer();
    },
  );

  app.post('/api/seal/backup', { config: lead, schema: { tags: ['seal'], body: z.strictObject({ passphrase }) } }, async ({ body }) => ({
    pem: await keys.exportPrivate(body.passphrase),
  }));

  app.post(
    '/api/seal/restore',
    { config: lead, schema: { tags: ['seal'], body: z.strictObject({ pem: z.string().max(10_000), passphrase: z.string().max(200) }) } },
    async ({ body }) => ({ fingerprint: await keys.importPrivate(body.pem, body.passphrase) }),
  );
  done();
};
