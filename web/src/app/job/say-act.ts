/** Acts in words, for buttons and notices. */
import { isActType, nameAct, type Fact, type Profile } from '@estuarine/core';

const CONTACTOR_WORDS = { unknown: 'not known', shut: 'shut', open: 'open', takenOut: 'taken out' } as const;

export function sayAct(type: string): string {
  return isActType(type) ? nameAct(type) : type;
}

/** A fact as a person would state it. */
export function sayFact(fact: Fact, profile: Profile): string {
  switch (fact.kind) {
    case 'key':
      return `key ${fact.isAway ? 'away' : 'in the car'}${fact.custody ? `, held: ${fact.custody}` : ''}`;
    case 'twelveVolt':
      return `12 V ${fact.isOff ? 'off and tucked away' : 'on'}`;
    case 'plug':
      return `${profile.plug.name} ${fact.isIn ? 'in' : 'out'}${fact.isLatched === undefined ? '' : fact.isLatched ? ' and latched' : ', not latched'}${fact.custody ? `, held: ${fact.custody}` : ''}`;
    case 'connectors':
      return `HV connectors ${fact.are === 'closed' ? 'on' : fact.are === 'open' ? 'off, ends bare' : 'off and insulated'}`;
    case 'custody':
      return `${fact.of === 'key' ? 'key' : profile.plug.name} held: ${fact.custody}`;
    case 'outletPosts':
      return `the pack’s own HV posts ${fact.areBare ? 'bare' : 'covered or capped'}`;
    case 'pack':
      return fact.isOnBench ? 'pack on the bench' : 'pack in the car';
    case 'case':
      return `case ${fact.isOpen ? 'open' : 'shut'}`;
    case 'covers':
      return `terminal covers${fact.over ? ` over ${fact.over.length} joints` : ''} ${fact.areOff ? 'off' : 'on'}`;
    case 'harness':
      return `sense harness ${fact.isUnplugged ? 'unplugged' : 'plugged in'}`;
    case 'frame':
      return `${profile.frames.find((f) => f.id === fact.frame)?.name ?? fact.frame} ${fact.isOff ? 'off' : 'on'}`;
    case 'links':
      return `link ${fact.links.join(', ')} ${fact.areOpen ? 'open' : 'closed'}`;
    case 'contactors':
      return `contactors ${CONTACTOR_WORDS[fact.are]}`;
    case 'module':
      return fact.moduleId === null
        ? `place ${fact.place} empty`
        : `module ${fact.moduleId} at place ${fact.place}${fact.isTurned ? ', turned' : ''}`;
    case 'charger':
      return fact.volt === null ? 'no source across the ends' : `a source of ${fact.volt} V across the ends`;
    case 'charged':
      return 'the pack was charged';
  }
}
