/** What an act of the shop changes, in words, so that whoever saves over what another changed meanwhile is told of it first. */
import type { ShopAct, ShopActBody, ShopActType } from './act.ts';

export interface Touch {
  /** Which thing: its kind and id. */
  readonly thing: string;
  /** What became of it, for the one who looks at it later. */
  readonly said: string;
  /** Whether it puts something in the place of what the person saw; an act that only adds to what stands is right whatever that is. */
  readonly replaces: boolean;
}

const onto = (thing: string, said: string): Touch => ({ thing, said, replaces: false });
const over = (thing: string, said: string): Touch => ({ thing, said, replaces: true });
const ANEW = 'what is known of it was written anew';

/** None: what carries a version of its own, figures of modules as a file has them, and what is erased for good. */
const TOUCHES: { readonly [T in ShopActType]: ((body: ShopActBody<T>) => Touch) | null } = {
  'stock.imported': null,
  'module.quarantined': (b) => onto(`module ${b.moduleId}`, `set aside: ${b.reason}`),
  'module.released': (b) => over(`module ${b.moduleId}`, 'released'),
  'policy.set': null,
  'gear.saved': (b) => over(`gear ${b.gear.gearId}`, ANEW),
  'gear.checked': (b) => onto(`gear ${b.gearId}`, `checked on ${b.on} by ${b.by}`),
  'gear.issued': (b) => onto(`gear ${b.gearId}`, `issued on ${b.on}`),
  'gear.used': (b) => onto(`gear ${b.gearId}`, `${b.cycles} cycles more`),
  'gear.retired': (b) => onto(`gear ${b.gearId}`, `taken out of use: ${b.reason}`),
  'person.added': (b) => onto(`person ${b.personId}`, `added as ${b.role}`),
  'person.role': (b) => over(`person ${b.personId}`, `${b.role} from now on`),
  'person.left': (b) => onto(`person ${b.personId}`, 'left'),
  'competence.recorded': (b) => over(`person ${b.personId}`, `training until ${b.validUntil} recorded`),
  'competence.withdrawn': (b) => over(`person ${b.personId}`, `training withdrawn: ${b.reason}`),
  'instrument.saved': (b) => over(`instrument ${b.instrumentId}`, ANEW),
  'instrument.removed': (b) => over(`instrument ${b.instrumentId}`, 'removed'),
  'profile.published': null,
  'terms.published': null,
  'vehicle.erased': null,
  'customer.erased': null,
};

/** What an act of the shop changes; null where nobody can have seen it otherwise. */
export function touchOf(act: ShopAct): Touch | null {
  return TOUCHES[act.type]?.(act.body as never) ?? null;
}

/** What a job does to a module of the shelf. */
export function touchOfDrop(moduleId: string): Touch {
  return onto(`module ${moduleId}`, 'dropped at a job');
}
