/** The gear of the shop, and the feed for any calendar of what is due: gear, and air paths to look at again. */
import { createHmac, timingSafeEqual } from 'node:crypto';
import type { GearAnswer } from '@estuarine/contract';
import { DEFAULT_POLICY, findDue, GEAR_NAMES, localTime, type Policy } from '@estuarine/core';
import type { FastifyPluginCallbackZod } from 'fastify-type-provider-zod';
import ical, { ICalCalendarMethod } from 'ical-generator';
import type pg from 'pg';
import * as z from 'zod';
import { findTail } from '../log/store.ts';
import { HttpProblem } from '../problem.ts';
import { findLatestPolicy } from '../policy/store.ts';
import { listGear } from './store.ts';

/** When a job has its air path looked at, and its pack opened, ISO 8601. */
export interface DueLook {
  readonly jobId: string;
  readonly number: number;
  readonly profileName: string;
  readonly lookAt: string;
  readonly stripAt: string | null;
}

/** What waits for an hour or a day on a job; null where it waits for nothing of it. */
export interface DueWait {
  readonly jobId: string;
  readonly number: number;
  readonly profileName: string;
  readonly capacitorsAt: string | null;
  readonly restedAt: string | null;
  readonly shipBy: string | null;
  readonly supplier: string;
}

export interface GearRoutes {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly secret: string;
  readonly clock: () => Date;
  /** Air paths that are to be looked at again. */
  readonly findLooks: () => Promise<readonly DueLook[]>;
  readonly findWaits: () => Promise<readonly DueWait[]>;
}

export const gearRoutes: FastifyPluginCallbackZod<GearRoutes> = (app, { pool, shopId, secret, clock, findLooks, findWaits }, done) => {
  // calendars cannot sign in: the address of the feed carries a key that only this shop can make
  const key = createHmac('sha256', secret).update(`gear feed of ${shopId}`).digest('base64url');

  async function today(): Promise<{ policy: Policy; today: string }> {
    const policy = (await findLatestPolicy(pool, shopId))?.policy ?? DEFAULT_POLICY;
    return { policy, today: localTime(clock().getTime(), policy.isolation.timeZone).date };
  }

  app.get('/api/gear', { schema: { tags: ['gear'] } }, async (): Promise<GearAnswer> => {
    // read first: what is kept meanwhile counts as not seen
    const position = await findTail(pool, shopId);
    const [rows, now] = await Promise.all([listGear(pool, shopId), today()]);
    return { rows, position, policy: now.policy.gear, today: now.today, feed: `/api/gear/due/${key}.ics` };
  });

  const params = z.object({ file: z.string().max(120) });
  app.get('/api/gear/due/:file', { config: { open: 'all' }, schema: { hide: true, params } }, async (request, reply) => {
    const given = Buffer.from(request.params.file);
    const wanted = Buffer.from(`${key}.ics`);
    if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) throw new HttpProblem(404, 'notFound', 'There is no such feed.');
    const [rows, looks, waits, now] = await Promise.all([listGear(pool, shopId), findLooks(), findWaits(), today()]);
    const calendar = ical({ name: 'Estuarine: what is due', method: ICalCalendarMethod.PUBLISH, prodId: '//Estuarine//Gear//EN' });
    for (const { gear, retired } of rows) {
      if (retired !== null) continue;
      const { dueOn, rule, source } = findDue(gear, now.policy.gear, now.today);
      if (dueOn === null) continue;
      calendar.createEvent({
        ...{ id: `gear-${gear.gearId}@estuarine`, start: dueOn, allDay: true, stamp: clock() },
        summary: `${GEAR_NAMES[gear.kind]} ${gear.label}: due`,
        description: `${rule} (${source}).`,
      });
    }
    for (const { jobId, number, profileName, lookAt, stripAt } of looks) {
      const due = [
        { id: 'look', at: lookAt, what: 'look at its air path' },
        ...(stripAt === null ? [] : [{ id: 'strip', at: stripAt, what: 'open the pack and clean its cells' }]),
      ];
      for (const { id, at, what } of due)
        calendar.createEvent({
          ...{
            id: `${id}-${jobId}@estuarine`,
            start: localTime(Date.parse(at), now.policy.isolation.timeZone).date,
            allDay: true,
            stamp: clock(),
          },
          summary: `Job ${number}, ${profileName}: ${what}`,
          description: 'As the job set it when its cooling was answered.',
        });
    }
    for (const { jobId, number, profileName, capacitorsAt, restedAt, shipBy, supplier } of waits) {
      const job = `Job ${number}, ${profileName}`;
      const at = (id: string, start: string, what: string): void =>
        void calendar.createEvent({ id: `${id}-${jobId}@estuarine`, start: new Date(start), stamp: clock(), summary: `${job}: ${what}` });
      if (capacitorsAt !== null) at('capacitors', capacitorsAt, 'the wait for the capacitors is over');
      if (restedAt !== null) at('rest', restedAt, 'the rest can be judged');
      if (shipBy !== null)
        calendar.createEvent({
          ...{ id: `core-${jobId}@estuarine`, start: shipBy, allDay: true, stamp: clock() },
          summary: `${job}: old ones back to ${supplier}`,
          description: 'As agreed at the core desk.',
        });
    }
    return reply.header('cache-control', 'private, no-cache').type('text/calendar; charset=utf-8').send(calendar.toString());
  });
  done();
};
