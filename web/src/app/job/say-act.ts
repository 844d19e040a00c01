/** Acts in words, for buttons and notices. */
import { isActType, type ActType, type Fact, type Profile } from '@estuarine/core';

const WORDS: Record<ActType, string> = {
  'job.opened': 'opening the job',
  'job.closed': 'closing the job',
  'job.reopened': 'opening the job again',
  'papers.corrected': 'a correction of the papers',
  'use.noted': 'a note of the use',
  'fact.stated': 'a stated fact',
  'sweep.started': 'the start of a sweep',
  'sweep.ended': 'the end of a sweep',
  'reading.taken': 'a reading',
  'readings.imported': 'an import',
  'reading.chosen': 'a choice of readings',
  'readings.confirmed': 'a confirmation of readings',
  'readings.moved': 'readings put to their modules',
  'act.withdrawn': 'taking back an act',
  'torque.set': 'the setting of a torque tool',
  'fastener.torqued': 'a tightened fastener',
  'rebuild.checked': 'a look at the stack',
  'pack.turned': 'turning the pack',
  'module.dropped': 'a dropped module',
  'bars.readied': 'bars made ready',
  'sensors.sited': 'the places of the sensors',
  'joints.surveyed': 'a survey of the joints',
  'half.measured': 'a half measured',
  'leak.tested': 'a test of the loop',
  'paste.laid': 'paste laid',
  'air.found': 'a look',
  'air.cleaned': 'a cleaning',
  'air.told': 'what a part of the air path is',
  'air.returned': 'the air that comes back',
  'air.driven': 'the air of a drive',
  'air.checked': 'a look before the air path is shut',
  'fan.measured': 'the curve of a fan',
  'fan.tested': 'a test of the fan',
  'cooling.judged': 'what the cooling answers',
  'look.set': 'the next look',
  'refit.checked': 'a look at what was put back',
  'group.tightened': 'a group tightened',
  'auxiliary.tested': 'a test of the 12 V battery',
  'spark.seen': 'the spark of the 12 V',
  'wake.tried': 'a wake',
  'car.scanned': 'a scan',
  'codes.cleared': 'the clearing of the codes',
  'drain.measured': 'a drain in the car',
  'road.driven': 'a road test',
  'energy.lent': 'energy lent to the pack',
  'cause.answered': 'a cause',
  'report.prepared': 'what the report shows',
  'warranty.given': 'the warranty',
  'terms.chosen': 'the choice of a supplier’s conditions',
  'terms.met': 'the word on a condition',
  'core.agreed': 'what goes back to a supplier',
  'core.checked': 'a look at what goes back',
  'core.shipped': 'the shipping of what goes back',
  'core.settled': 'what came of a deposit',
  'accessory.offered': 'the offer of an accessory',
  'comeback.explained': 'why the job came back',
  'plan.chosen': 'the chosen plan',
  'plan.withdrawn': 'the withdrawal of a plan',
  'word.passed': 'a word passed on',
  'word.confirmed': 'the answer for words passed on',
  'policy.adopted': 'the change of limits',
  'step.done': 'a step said to be done',
  'step.reopened': 'a step opened again',
  'gear.picked': 'picking gear',
  'wait.lengthened': 'lengthening the wait',
  'proof.started': 'the start of a proof of dead',
  'proof.read': 'a reading of the proof of dead',
  'cosign.asked': 'asking for a co-sign',
  'proof.signed': 'signing the proof of dead',
  'shift.ended': 'the end of the shift',
  'step.overridden': 'an override',
  'insulation.read': 'an insulation reading',
  'insulation.tested': 'a reading of the insulation tester',
  'part.added': 'a part that was found',
  'part.moved': 'a count of the ledger',
  'part.leftOff': 'leaving parts off',
  'finding.noted': 'a finding',
  'finding.settled': 'the end of a finding',
  'photo.taken': 'a photograph',
  'photo.erased': 'erasing a photograph',
  'transfer.stated': 'a part to move across',
  'lift.planned': 'the lift plan',
  'orientation.recorded': 'how the pack lies',
  'modules.released': 'letting the modules be moved',
};

const CONTACTOR_WORDS = { unknown: 'not known', shut: 'shut', open: 'open', takenOut: 'taken out' } as const;

export function sayAct(type: string): string {
  return isActType(type) ? WORDS[type] : type;
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
