/** Acts on the people of the shop. */
import { refuse, type Refusal, type ShopAct } from '@estuarine/core';
import { asIs, type ShopRoom, type ShopScene } from '../log/shop-room.ts';
import * as store from './store.ts';

type Type = 'person.added' | 'person.role' | 'person.left' | 'competence.recorded' | 'competence.withdrawn';

export const personRoom: ShopRoom<Type> = {
  decide: {
    'person.added': asIs,
    'person.role': refusePerson,
    'person.left': refusePerson,
    'competence.recorded': refusePerson,
    'competence.withdrawn': refusePerson,
  },
  project: {
    'person.added': (body, { db, shopId }) => store.savePersonRole(db, shopId, body.personId, body.role),
    'person.role': (body, { db, shopId }) => store.savePersonRole(db, shopId, body.personId, body.role),
    'person.left': async (body, { db, shopId }) => {
      await store.deleteSessionsOf(db, shopId, body.personId);
      await store.markLeft(db, shopId, body.personId);
    },
    'competence.recorded': (body, { db, shopId }) => store.saveCompetence(db, shopId, body),
    'competence.withdrawn': (body, { db, shopId }) => store.deleteCompetence(db, shopId, body.personId, body.kind),
  },
};

async function refusePerson(
  act: Extract<ShopAct, { type: Exclude<Type, 'person.added'> }>,
  { db, shopId }: ShopScene,
): Promise<Refusal | null> {
  const { personId } = act.body;
  const persons = (await store.listPersons(db, shopId)).filter((p) => !p.hasLeft);
  const person = persons.find((p) => p.id === personId);
  if (!person) return refuse('unknownName', `There is no ${personId} in this shop.`, ['body', 'personId']);
  const losesLead = act.type === 'person.left' || (act.type === 'person.role' && act.body.role !== 'lead');
  if (losesLead && person.role === 'lead' && persons.filter((p) => p.role === 'lead').length === 1)
    return refuse('notPermitted', `${person.name} is the only lead: name another first.`, ['body', 'personId']);
  return null;
}
