/** Instruments over HTTP: which there are, and one reading from one of them. */
import type { InstrumentsAnswer } from '@estuarine/contract';
import { idSchema, PROOF_ENTRIES } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import * as z from 'zod';
import type { Bench } from './bench.ts';

export interface InstrumentRoutes {
  readonly bench: Bench;
  /** The position of the last event of the shop. */
  readonly findPosition: () => Promise<number>;
}

export const instrumentRoutes: FastifyPluginCallbackZod<InstrumentRoutes> = (app, { bench, findPosition }, done) => {
  app.get('/api/instruments', { schema: { tags: ['instruments'] } }, async (): Promise<InstrumentsAnswer> => {
    // read first: what is kept meanwhile counts as not seen
    const position = await findPosition();
    return { instruments: await bench.list(), position };
  });

  const params = z.object({ instrumentId: idSchema });
  const leads = z.strictObject({ jobId: idSchema, place: z.enum(PROOF_ENTRIES), sourceId: idSchema.nullable() });
  app.post('/api/instruments/:instrumentId/measure', { schema: { tags: ['instruments'], params, body: leads } }, (request) =>
    bench.measure(request.params.instrumentId, request.body),
  );
  const set = z.strictObject({ setNewtonMetre: z.number().positive().max(10_000) });
  app.post('/api/instruments/:instrumentId/torque', { schema: { tags: ['instruments'], params, body: set } }, (request) =>
    bench.readTorque(request.params.instrumentId, request.body.setNewtonMetre),
  );
  // a fan of a car stands no more than its battery gives
  const fan = z.strictObject({ meterId: idSchema, jobId: idSchema, part: z.int().min(0).max(200), volt: z.number().min(0).max(15) });
  app.post('/api/instruments/:instrumentId/fan', { schema: { tags: ['instruments'], params, body: fan } }, (request) =>
    bench.readFan({ supplyId: request.params.instrumentId, ...request.body }),
  );
  app.post(
    '/api/instruments/:instrumentId/auxiliary',
    { schema: { tags: ['instruments'], params, body: z.strictObject({ jobId: idSchema }) } },
    (request) => bench.testAuxiliary(request.params.instrumentId, request.body.jobId),
  );
  done();
};
