/** Acts of the shop: decided, kept in the shop's stream, and shown in its tables. */
import { SHOP_STREAM, type SentShopAct } from '@estuarine/contract';
import { answer, checkProfile, refuse, withCheck, type Gear, type Result, type Role, type ShopAct } from '@estuarine/core';
import type pg from 'pg';
import type { Queryable } from '../database/database.ts';
import { keepAct } from '../log/append.ts';
import type { ChainedEvent } from '../log/chain.ts';
import type { Outcome } from '../log/store.ts';
import { findGear, retireGear, saveGear } from '../gear/store.ts';
import { deleteInstrument, findInstrument, saveInstrument } from '../instruments/store.ts';
import * as people from '../persons/store.ts';
import * as store from './store.ts';

/** Acts that the lead alone does. */
const FOR_LEAD: ReadonlySet<ShopAct['type']> = new Set([
  ...(['person.added', 'person.role', 'person.left', 'competence.recorded', 'competence.withdrawn'] as const),
  ...(['instrument.saved', 'instrument.removed'] as const),
]);
/** Acts that an apprentice leaves to others. */
const FOR_QUALIFIED: ReadonlySet<ShopAct['type']> = new Set([
  ...(['policy.set', 'profile.published', 'gear.saved', 'gear.checked', 'gear.issued', 'gear.retired'] as const),
  ...(['module.quarantined', 'module.released', 'stock.imported'] as const),
]);

export interface ShopActs {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly clock: () => Date;
}

export async function keepShopAct(shop: ShopActs, sent: SentShopAct, role: Role): Promise<Outcome> {
  const { pool, shopId, clock } = shop;
  return keepAct(
    pool,
    { shopId, stream: SHOP_STREAM, commandId: sent.commandId, by: sent.by, deviceAt: sent.deviceAt, act: sent.act, clock, opens: true },
    {
      decide: (client) => decideShopAct(client, shopId, sent.act, role),
      project: async (client, events) => {
        for (const event of events) await projectShopEvent(client, shopId, event);
      },
    },
  );
}

async function decideShopAct(db: Queryable, shopId: string, act: ShopAct, role: Role): Promise<Result<readonly ShopAct[]>> {
  if (role !== 'lead' && FOR_LEAD.has(act.type)) return refuse('notPermitted', 'Only the lead does this.');
  if (role === 'apprentice' && FOR_QUALIFIED.has(act.type)) return refuse('notPermitted', 'A technician or the lead does this.');
  switch (act.type) {
    case 'stock.imported': {
      const seen = new Set<string>();
      for (const [i, { moduleId }] of act.body.modules.entries()) {
        if (seen.has(moduleId)) return refuse('mismatch', `Module ${moduleId} stands twice.`, ['body', 'modules', i]);
        seen.add(moduleId);
      }
      return answer([act]);
    }
    case 'module.quarantined':
    case 'module.released': {
      const { moduleId } = act.body;
      return (await store.findModuleState(db, shopId, moduleId))
        ? answer([act])
        : refuse('unknownName', `There is no module ${moduleId} in this shop.`, ['body', 'moduleId']);
    }
    case 'policy.set': {
      const standing = await store.findLatestPolicy(db, shopId);
      const latest = standing?.version ?? 0;
      const isHazard = JSON.stringify(standing?.policy.isolation) !== JSON.stringify(act.body.policy.isolation);
      if (isHazard && standing && role !== 'lead')
        return refuse('notPermitted', 'Only the lead changes what isolation asks for.', ['body', 'policy', 'isolation']);
      return act.body.version === latest + 1
        ? answer([act])
        : refuse('gone', `The limits were changed meanwhile: version ${latest} stands. Look at it and set them again.`, [
            'body',
            'version',
          ]);
    }
    case 'profile.published': {
      const { profile } = act.body;
      const checked = checkProfile(profile);
      if (checked.kind === 'refused') return refuse(checked.code, checked.message, ['body', 'profile', ...checked.path]);
      return (await store.findProfile(db, shopId, profile.id, profile.version))
        ? refuse('taken', `${profile.name} version ${profile.version} stands already; give the next version.`, [
            'body',
            'profile',
            'version',
          ])
        : answer([act]);
    }
    case 'gear.saved':
      return decideGear(act.body.gear, act);
    case 'gear.checked':
    case 'gear.issued':
    case 'gear.used':
    case 'gear.retired': {
      const row = await findGear(db, shopId, act.body.gearId);
      if (!row) return refuse('unknownName', `The shop has no gear "${act.body.gearId}".`, ['body', 'gearId']);
      if (row.retired !== null) return refuse('gone', `${row.gear.label} was taken out of use: ${row.retired}`, ['body', 'gearId']);
      if (act.type === 'gear.issued' && row.gear.kind !== 'gloves')
        return refuse('mismatch', 'Only gloves are issued.', ['body', 'gearId']);
      if (act.type === 'gear.used' && row.gear.kind !== 'torqueTool')
        return refuse('mismatch', 'Cycles are counted of torque tools.', ['body', 'gearId']);
      return answer([act]);
    }
    case 'person.added':
      return answer([act]);
    case 'person.role':
    case 'person.left':
    case 'competence.recorded':
    case 'competence.withdrawn':
      return decidePerson(db, shopId, act);
    case 'instrument.saved':
      return decideInstrument(db, shopId, act);
    case 'instrument.removed':
      return (await findInstrument(db, shopId, act.body.instrumentId))
        ? answer([act])
        : refuse('unknownName', 'There is no such instrument.', ['body', 'instrumentId']);
  }
}

function decideGear(gear: Gear, act: ShopAct): Result<readonly ShopAct[]> {
  if (gear.kind === 'torqueTool' && gear.minNewtonMetre >= gear.maxNewtonMetre)
    return refuse('mismatch', 'The least torque lies below the greatest.', ['body', 'gear', 'minNewtonMetre']);
  return answer([act]);
}

type PersonAct = Extract<ShopAct, { type: 'person.role' | 'person.left' | 'competence.recorded' | 'competence.withdrawn' }>;

async function decidePerson(db: Queryable, shopId: string, act: PersonAct): Promise<Result<readonly ShopAct[]>> {
  const { personId } = act.body;
  const persons = (await people.listPersons(db, shopId)).filter((p) => !p.hasLeft);
  const person = persons.find((p) => p.id === personId);
  if (!person) return refuse('unknownName', `There is no ${personId} in this shop.`, ['body', 'personId']);
  const losesLead = act.type === 'person.left' || (act.type === 'person.role' && act.body.role !== 'lead');
  if (losesLead && person.role === 'lead' && persons.filter((p) => p.role === 'lead').length === 1)
    return refuse('notPermitted', `${person.name} is the only lead: name another first.`, ['body', 'personId']);
  return answer([act]);
}

const LOOPBACK = /^(127\.\d{1,3}\.\d{1,3}\.\d{1,3}|localhost|::1)$/;
/** Addresses of a private network (RFC 1918, RFC 4193). Never a name, which could lead anywhere. */
const PRIVATE = /^(10\.\d{1,3}|192\.168|172\.(1[6-9]|2\d|3[01]))\.\d{1,3}\.\d{1,3}$|^f[cd][0-9a-f]{2}:[0-9a-f:]+$/i;

async function decideInstrument(
  db: Queryable,
  shopId: string,
  act: Extract<ShopAct, { type: 'instrument.saved' }>,
): Promise<Result<readonly ShopAct[]>> {
  const { host } = act.body;
  if (LOOPBACK.test(host)) return answer([act]);
  if (!PRIVATE.test(host))
    return refuse('notPermitted', `${host} is no address of this machine or of a private network. Instruments are never further away.`, [
      'body',
      'host',
    ]);
  const policy = (await store.findLatestPolicy(db, shopId))?.policy;
  return policy?.isolation.allowsNetworkInstruments
    ? answer([act])
    : refuse('notPermitted', 'Instruments on the network are not allowed by the limits of the shop; the lead can allow them there.', [
        'body',
        'host',
      ]);
}

async function changeGear(db: Queryable, shopId: string, gearId: string, change: (gear: Gear) => Gear): Promise<void> {
  const row = await findGear(db, shopId, gearId);
  if (row) await saveGear(db, shopId, change(row.gear));
}

/** What a kept event of the shop changes in its tables; also run by a rebuild. */
export async function projectShopEvent(db: Queryable, shopId: string, event: ChainedEvent): Promise<void> {
  const act = { type: event.type, body: event.body } as ShopAct;
  switch (act.type) {
    case 'stock.imported':
      return store.saveModules(db, shopId, act.body.modules);
    case 'module.quarantined':
      return store.setQuarantine(db, shopId, act.body.moduleId, act.body.reason);
    case 'module.released':
      return store.setQuarantine(db, shopId, act.body.moduleId, null);
    case 'policy.set':
      return store.savePolicy(db, shopId, act.body.version, act.body.policy);
    case 'profile.published':
      return store.saveProfile(db, shopId, act.body.profile);
    case 'gear.saved':
      return saveGear(db, shopId, act.body.gear);
    case 'gear.checked':
      return changeGear(db, shopId, act.body.gearId, (gear) => withCheck(gear, act.body.on));
    case 'gear.issued':
      return changeGear(db, shopId, act.body.gearId, (gear) => (gear.kind === 'gloves' ? { ...gear, issuedOn: act.body.on } : gear));
    case 'gear.used':
      return changeGear(db, shopId, act.body.gearId, (gear) =>
        gear.kind === 'torqueTool' ? { ...gear, cycles: gear.cycles + act.body.cycles } : gear,
      );
    case 'gear.retired':
      return retireGear(db, shopId, act.body.gearId, act.body.reason);
    case 'person.added':
    case 'person.role':
      return people.savePersonRole(db, shopId, act.body.personId, act.body.role);
    case 'person.left':
      await people.deleteSessionsOf(db, shopId, act.body.personId);
      return people.markLeft(db, shopId, act.body.personId);
    case 'competence.recorded':
      return people.saveCompetence(db, shopId, act.body);
    case 'competence.withdrawn':
      return people.deleteCompetence(db, shopId, act.body.personId, act.body.kind);
    case 'instrument.saved':
      return saveInstrument(db, shopId, act.body);
    case 'instrument.removed':
      return deleteInstrument(db, shopId, act.body.instrumentId);
  }
}
