/** Acts on things of the shop: what they refuse, what they change, and what becomes of one that was written over an older look. */
import { DEFAULT_POLICY, type Gear, type Policy, type Profile, type ShopAct, type SupplierTerms } from '@estuarine/core';
import type { FastifyInstance } from 'fastify';
import { References } from '../src/profiles/references.ts';
import { findProfile, listProfiles } from '../src/profiles/store.ts';
import { createDatabase, Desk, nextId, SHOP, signIn, startApp, stockModules, type TestDatabase } from './support.ts';

let db: TestDatabase;
let app: FastifyInstance;
let cookies: Record<string, string>;
const now = { at: new Date('2026-05-04T10:00:00Z') };

beforeAll(async () => {
  db = await createDatabase();
  app = await startApp(db, { clock: () => now.at });
  cookies = { ts: await signIn(app, 'ts'), om: await signIn(app, 'om') };
});
afterAll(async () => {
  await app.close();
  await db.drop();
});

const look = async <T>(url: string): Promise<T & { position: number }> =>
  (await app.inject({ method: 'GET', url, headers: { cookie: cookies.om } })).json();
const act = async (by: 'ts' | 'om', of: ShopAct, seen?: number, commandId = nextId()) => {
  const payload = { commandId, by, deviceAt: now.at.toISOString(), act: of, ...(seen === undefined ? {} : { seen }) };
  return (await app.inject({ method: 'POST', url: '/api/shop/acts', payload, headers: { cookie: cookies[by] } })).json<object>();
};
const KEPT = { kind: 'kept' };
const staleWith = (told: RegExp) => ({ status: 409, type: 'urn:estuarine:gone', path: ['seen'], detail: expect.stringMatching(told) as string }); // prettier-ignore
const gearOf = async (gearId: string) =>
  (await look<{ rows: { gear: Gear; retired: string | null }[] }>('/api/gear')).rows.find((r) => r.gear.gearId === gearId);
const COMMON = { serial: '', note: '' };
const GLOVES = { ...COMMON, kind: 'gloves', gearId: 'G-90', label: 'G-90', gloveClass: '0', size: '9', testedOn: '2026-04-01', issuedOn: null } as const; // prettier-ignore
const TOOL = { ...COMMON, kind: 'torqueTool', gearId: 'T-90', label: 'T-90', minNewtonMetre: 2, maxNewtonMetre: 10, calibratedOn: '2026-04-01', cycles: 100 } as const; // prettier-ignore
const save = (gear: Gear): ShopAct => ({ type: 'gear.saved', body: { gear } });

describe('gear', () => {
  beforeAll(async () => {
    for (const gear of [GLOVES, TOOL]) expect(await act('om', save(gear))).toMatchObject(KEPT);
  });

  it('has a least torque below its greatest, and no day that has not come', async () => {
    const id = { gearId: 'T-91', label: 'T-91' };
    for (const [least, most] of [
      [10, 10],
      [12, 10],
    ])
      // prettier-ignore
      expect(await act('om', save({ ...TOOL, ...id, minNewtonMetre: least ?? 0, maxNewtonMetre: most ?? 0 }))).toMatchObject({
        ...{ status: 422, path: ['body', 'gear', 'minNewtonMetre'] },
      });
    expect(await act('om', save({ ...TOOL, ...id, calibratedOn: '2026-05-06' }))).toMatchObject({
      ...{ status: 422, path: ['body', 'gear', 'calibratedOn'], detail: expect.stringContaining('2026-05-06 has not come yet') as string },
    });
    expect(await gearOf('T-91')).toBeUndefined();
  });

  it('counts cycles of torque tools, issues gloves, and nothing else', async () => {
    expect(await act('om', { type: 'gear.used', body: { gearId: 'T-90', cycles: 28 } })).toMatchObject(KEPT);
    expect((await gearOf('T-90'))?.gear).toMatchObject({ cycles: 128 });
    expect(await act('om', { type: 'gear.used', body: { gearId: 'G-90', cycles: 1 } })).toMatchObject({
      ...{ status: 422, path: ['body', 'gearId'], detail: 'Cycles are counted of torque tools.' },
    });
    expect(await act('om', { type: 'gear.issued', body: { gearId: 'G-90', on: '2026-05-04' } })).toMatchObject(KEPT);
    expect((await gearOf('G-90'))?.gear).toMatchObject({ issuedOn: '2026-05-04' });
    expect(await act('om', { type: 'gear.issued', body: { gearId: 'T-90', on: '2026-05-04' } })).toMatchObject({ status: 422 });
    expect(await act('om', { type: 'gear.used', body: { gearId: 'T-none', cycles: 1 } })).toMatchObject({
      ...{ status: 422, detail: expect.stringContaining('no gear "T-none"') as string },
    });
  });

  it('was checked by today, or by tomorrow where that has begun elsewhere', async () => {
    const checked = (on: string) => act('om', { type: 'gear.checked', body: { gearId: 'G-90', on, by: 'test house' } });
    expect(await checked('2026-05-06')).toMatchObject({ status: 422, path: ['body', 'on'] });
    expect(await checked('2026-05-05')).toMatchObject(KEPT);
    expect((await gearOf('G-90'))?.gear).toMatchObject({ testedOn: '2026-05-05' });
  });

  it('is in the feed of what is due while it is in use, by its day and its rule', async () => {
    const { feed } = await look<{ feed: string }>('/api/gear');
    const read = async () => (await app.inject({ method: 'GET', url: feed })).body.replaceAll(/\r?\n[ \t]/g, '');
    const eventOf = (text: string, id: string) => text.split('BEGIN:VEVENT').find((one) => one.includes(`UID:${id}`));
    const due = eventOf(await read(), 'gear-G-90@estuarine');
    // gloves in use: six months from the test (29 CFR 1910.137, table I-5)
    expect(due).toContain('DTSTART;VALUE=DATE:20261105');
    expect(due).toContain('SUMMARY:Insulating gloves G-90: due');
    expect(due).toMatch(/DESCRIPTION:.*\(.+\)\./);
    await act('om', save({ ...GLOVES, gearId: 'G-91', label: 'G-91' }));
    expect(eventOf(await read(), 'gear-G-91@estuarine')).toBeDefined();
    await act('om', { type: 'gear.retired', body: { gearId: 'G-91', reason: 'torn' } });
    expect(eventOf(await read(), 'gear-G-91@estuarine')).toBeUndefined();
    for (const wrong of [feed.replace('.ics', ''), `/api/gear/due/${'x'.repeat(feed.length - 14)}`, '/api/gear/due/x.ics'])
      expect((await app.inject({ method: 'GET', url: wrong })).statusCode).toBe(404);
  });
});

describe('a save over an older look', () => {
  it('does not revive gloves that were condemned meanwhile, nor bring cycles back; said again, it rests on what was told', async () => {
    const seen = (await look('/api/gear')).position;
    await act('ts', { type: 'gear.retired', body: { gearId: 'G-90', reason: 'cut at the cuff' } });
    await act('ts', { type: 'gear.used', body: { gearId: 'T-90', cycles: 12 } });
    expect(await act('om', save({ ...GLOVES, note: 'mine' }), seen)).toMatchObject(
      staleWith(/^Changed since this was opened: taken out of use: cut at the cuff \(TS, 2026-05-04 \d\d:00\)\. Look/),
    );
    expect(await gearOf('G-90')).toMatchObject({ retired: 'cut at the cuff', gear: { note: '' } });
    expect(await act('om', save(TOOL), seen)).toMatchObject(staleWith(/12 cycles more/));
    expect((await gearOf('T-90'))?.gear).toMatchObject({ cycles: 140 });
    // another piece was not touched by either
    expect(await act('om', save({ ...GLOVES, gearId: 'G-92', label: 'G-92' }), seen)).toMatchObject(KEPT);
    const told = (await look('/api/gear')).position;
    expect(await act('om', save({ ...GLOVES, note: 'mine' }), told)).toMatchObject(KEPT);
    expect(await gearOf('G-90')).toMatchObject({ retired: null, gear: { note: 'mine' } });
  });

  it('is one of two: the second is told of the first, and by one who saw nothing nothing that stands is overwritten', async () => {
    const seen = (await look('/api/gear')).position;
    expect(await act('ts', save({ ...GLOVES, gearId: 'G-92', label: 'G-92', note: 'first' }), seen)).toMatchObject(KEPT);
    const second = save({ ...GLOVES, gearId: 'G-92', label: 'G-92', note: 'second' });
    expect(await act('om', second, seen)).toMatchObject(staleWith(/written anew \(TS/));
    expect(await act('om', second)).toMatchObject(staleWith(/written anew/));
    // nor by one who saw a log that was restored since
    expect(await act('om', second, seen + 1_000_000)).toMatchObject(staleWith(/written anew/));
    expect((await gearOf('G-92'))?.gear.note).toBe('first');
  });

  it('is kept once, however late the same is sent again', async () => {
    const seen = (await look('/api/gear')).position;
    const commandId = nextId();
    const mine = save({ ...GLOVES, gearId: 'G-92', label: 'G-92', note: 'third' });
    const kept = await act('om', mine, seen, commandId);
    expect(kept).toMatchObject(KEPT);
    expect(await act('om', mine, seen, commandId)).toEqual(kept);
  });

  it('never gives back a role, or a training, over what the lead said since', async () => {
    const seen = (await look('/api/people')).position;
    const role = (role: 'technician' | 'apprentice'): ShopAct => ({ type: 'person.role', body: { personId: 'jf', role } });
    const body = { personId: 'jf', kind: 'highVoltage', training: 't', givenBy: 'g', validUntil: '2027-01-01' } as const;
    expect(await act('ts', { type: 'competence.recorded', body }, seen)).toMatchObject(KEPT);
    expect(await act('ts', role('technician'), seen)).toMatchObject(staleWith(/training until 2027-01-01 recorded/));
    expect(
      await act('ts', { type: 'competence.withdrawn', body: { personId: 'jf', kind: 'highVoltage', reason: 'r' } }, seen),
    ).toMatchObject(staleWith(/training until/));
    const told = (await look('/api/people')).position;
    expect(await act('ts', role('technician'), told)).toMatchObject(KEPT);
    // one who leaves, leaves
    expect(await act('ts', { type: 'person.left', body: { personId: 'jf' } }, seen)).toMatchObject(KEPT);
  });

  it('removes no instrument that was written anew, and writes over none that was', async () => {
    const body = { instrumentId: 'i9', name: 'one', kind: 'meter', host: '127.0.0.1', port: 5025, gearId: null } as const;
    expect(await act('ts', { type: 'instrument.saved', body })).toMatchObject(KEPT);
    const { position } = await look('/api/instruments');
    expect(await act('ts', { type: 'instrument.saved', body: { ...body, port: 5026 } }, position)).toMatchObject(KEPT);
    expect(await act('ts', { type: 'instrument.saved', body }, position)).toMatchObject(staleWith(/written anew/));
    expect(await act('ts', { type: 'instrument.removed', body: { instrumentId: 'i9' } }, position)).toMatchObject(
      staleWith(/written anew/),
    );
    const told = (await look('/api/instruments')).position;
    expect(await act('ts', { type: 'instrument.removed', body: { instrumentId: 'i9' } }, told)).toMatchObject(KEPT);
  });

  it('releases no module that was set aside for another reason since, by the shop or by a job', async () => {
    await stockModules(db.pool, 'S-90', 'S-91');
    const quarantine = (moduleId: string, reason: string): ShopAct => ({ type: 'module.quarantined', body: { moduleId, reason } });
    const release = (moduleId: string): ShopAct => ({ type: 'module.released', body: { moduleId } });
    for (const moduleId of ['S-90', 'S-91']) await act('om', quarantine(moduleId, 'label unreadable'));
    const { position } = await look('/api/stock');
    await act('ts', quarantine('S-90', 'leaks'));
    expect(await act('om', release('S-90'), position)).toMatchObject(staleWith(/set aside: leaks \(TS/));
    const desk = new Desk(db);
    await desk.openJob('touched');
    await desk.keep('touched', { type: 'module.dropped', body: { moduleId: 'S-91', note: '' } });
    expect(await act('om', release('S-91'), position)).toMatchObject(staleWith(/dropped at a job/));
    const told = (await look('/api/stock')).position;
    for (const moduleId of ['S-90', 'S-91']) expect(await act('om', release(moduleId), told)).toMatchObject(KEPT);
  });
});

describe('what carries a version of its own', () => {
  it('limits are set on the version that stands, told by number, and each version stays as it was', async () => {
    const { version, policy: standing } = await look<{ version: number; policy: Policy }>('/api/policy');
    expect(standing).toEqual(DEFAULT_POLICY);
    const policy = { ...standing, matching: { ...standing.matching, minCapacityAh: 4.2 } };
    for (const wrong of [version, version + 2])
      expect(await act('om', { type: 'policy.set', body: { version: wrong, policy } })).toMatchObject({
        ...{ status: 409, path: ['body', 'version'], detail: expect.stringContaining(`version ${version} stands`) as string },
      });
    expect(await act('om', { type: 'policy.set', body: { version: version + 1, policy } })).toMatchObject(KEPT);
    expect(await look(`/api/policies/${version + 1}`)).toEqual({ version: version + 1, policy });
    expect(await look(`/api/policies/${version}`)).toEqual({ version, policy: standing });
    const kept = await app.inject({ method: 'GET', url: `/api/policies/${version}`, headers: { cookie: cookies.om } });
    expect(kept.headers['cache-control']).toContain('immutable');
    expect(await look(`/api/policies/${version + 9}`)).toMatchObject({ status: 404, detail: expect.stringContaining(`version ${version + 9}`) as string }); // prettier-ignore
  });

  it('a profile is published once a version, checked, and found by both', async () => {
    const { profiles: before } = await look<{ profiles: Profile[] }>('/api/profiles');
    const profile = before.find((p) => p.id === 'dunlin-28');
    if (!profile) throw new Error('no profile');
    const { version } = profile;
    const publish = (over: Partial<Profile>) => act('om', { type: 'profile.published', body: { profile: { ...profile, ...over } } });
    expect(await publish({})).toMatchObject({ status: 409, path: ['body', 'profile', 'version'], detail: expect.stringContaining(`version ${version} stands already`) as string }); // prettier-ignore
    expect(await publish({ version: version + 1, blocks: [2] })).toMatchObject({ status: 422, path: ['body', 'profile', 'blocks'] });
    const next = `/api/profiles/dunlin-28/${version + 1}`;
    expect(await look(next)).toMatchObject({ status: 404, detail: expect.stringContaining(`dunlin-28 of version ${version + 1}`) as string }); // prettier-ignore
    expect(await publish({ version: version + 1, name: 'Dunlin 28 b' })).toMatchObject(KEPT);
    for (const [url, name] of [
      [next, 'Dunlin 28 b'],
      [`/api/profiles/dunlin-28/${version}`, profile.name],
    ] as const)
      // prettier-ignore
      for (let time = 0; time < 2; time++) expect((await look<{ profile: Profile }>(url)).profile).toMatchObject({ name });
    const { profiles } = await look<{ profiles: Profile[] }>('/api/profiles');
    expect(profiles.filter((p) => p.id === 'dunlin-28').map((p) => p.version)).toEqual([version + 1]);
  });

  it('versions are read once a process, and one that is not there again each time', async () => {
    let asked = 0;
    const query = (text: string, values: unknown[]): Promise<unknown> => {
      asked++;
      return db.pool.query<object>(text, values);
    };
    const counted = { query } as unknown as typeof db.pool;
    const references = new References(SHOP);
    for (const read of [() => references.profile(counted, 'dunlin-28', 99), () => references.policy(counted, 99)]) {
      asked = 0;
      expect([await read(), await read(), asked]).toEqual([null, null, 2]);
    }
    const [profile] = await listProfiles(db.pool, SHOP);
    for (const read of [() => references.profile(counted, profile?.id ?? '', profile?.version ?? 0), () => references.policy(counted, 1)]) {
      asked = 0;
      const [one, two] = [await read(), await read()];
      expect(one).not.toBeNull();
      expect([two === one, asked]).toEqual([true, 1]);
    }
  });

  it('a profile that was stored and cannot be read is a fault, not another profile', async () => {
    await db.pool.query(`insert into profile (shop_id, profile_id, version, body) values ($1, 'torn', 1, '{"id":"torn"}')`, [SHOP]);
    await expect(findProfile(db.pool, SHOP, 'torn', 1)).rejects.toThrow('a stored profile cannot be read');
    await db.pool.query(`delete from profile where profile_id = 'torn'`);
  });

  it('conditions of a supplier are published once a version', async () => {
    const terms: SupplierTerms = {
      ...{ format: 'estuarine-supplier-terms', id: 'saltings', version: 1, supplier: 'Saltings Cells', months: 12 },
      conditions: [{ kind: 'scanKept' }],
    };
    const publish = (of: SupplierTerms) => act('om', { type: 'terms.published', body: { terms: of } });
    expect(await publish(terms)).toMatchObject(KEPT);
    expect(await publish({ ...terms, supplier: 'Other' })).toMatchObject({ status: 409, path: ['body', 'terms', 'version'] });
    expect((await look<{ terms: SupplierTerms }>('/api/terms/saltings/1')).terms).toMatchObject({ supplier: 'Saltings Cells' });
    expect(await look('/api/terms/saltings/2')).toMatchObject({ status: 404, detail: expect.stringContaining('saltings of version 2') as string }); // prettier-ignore
    const { terms: all } = await look<{ terms: SupplierTerms[] }>('/api/terms');
    expect(all.map((t) => t.id)).toContain('saltings');
  });

  it('schemas of both are open to anyone who writes a file', async () => {
    for (const url of ['/api/profile.schema.json', '/api/terms.schema.json']) {
      const answer = await app.inject({ method: 'GET', url });
      expect([answer.statusCode, answer.headers['content-type']]).toEqual([200, expect.stringContaining('schema+json')]);
      expect(Object.keys(answer.json<{ properties: object }>().properties)).toContain('version');
    }
  });
});

describe('the shelf', () => {
  const MODULE = { moduleId: 'S-80', label: 'S-80', typeId: 'nimh-6-prismatic', capacityAh: 5.61, resistanceMilliohm: 21.5, restDropMillivolt: 12.5, ocvVolt: 7.91, bin: 'Rack C' }; // prettier-ignore
  const bring = (...modules: object[]) =>
    act('om', { type: 'stock.imported', body: { fileName: 'shelf.csv', modules: modules as (typeof MODULE)[] } });
  const rowOf = async (moduleId: string) =>
    (await look<{ rows: { moduleId: string; quarantine: string | null }[] }>('/api/stock')).rows.find((r) => r.moduleId === moduleId);

  it('holds each figure of a file as it came, renews them, and keeps what was set aside', async () => {
    expect(await bring(MODULE)).toMatchObject(KEPT);
    expect(await rowOf('S-80')).toEqual({ ...MODULE, quarantine: null, reservedBy: null, inJob: null, place: null });
    await act('om', { type: 'module.quarantined', body: { moduleId: 'S-80', reason: 'swollen' } });
    expect(await bring({ ...MODULE, ocvVolt: 7.5, bin: 'Rack D' })).toMatchObject(KEPT);
    expect(await rowOf('S-80')).toMatchObject({ ocvVolt: 7.5, bin: 'Rack D', quarantine: 'swollen' });
    const { types } = await look<{ types: { id: string }[] }>('/api/stock');
    expect(types.map((t) => t.id)).toContain('nimh-6-prismatic');
  });

  it('takes no file in which a module stands twice, or a figure that its type cannot have; and sets aside none that it has not', async () => {
    expect(await bring(MODULE, { ...MODULE, bin: '' })).toMatchObject({ status: 422, path: ['body', 'modules', 1] });
    expect(await bring({ ...MODULE, moduleId: 'S-81', ocvVolt: 79.1 })).toMatchObject({
      status: 422,
      path: ['body', 'modules', 0, 'ocvVolt'],
    });
    expect(await rowOf('S-81')).toBeUndefined();
    const none = { status: 422, path: ['body', 'moduleId'], detail: 'There is no module S-81 in this shop.' };
    expect(await act('om', { type: 'module.quarantined', body: { moduleId: 'S-81', reason: 'r' } })).toMatchObject(none);
    expect(await act('om', { type: 'module.released', body: { moduleId: 'S-81' } })).toMatchObject(none);
  });
});
