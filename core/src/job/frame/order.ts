/** The order that the trade keeps. Facts are kept all the same; what came otherwise is said beside them. Common practice, no source. */
import type { PackState } from '../../pack/effect.ts';
import { openableLinks, type Fact } from '../../pack/fact.ts';
import type { StringPlan } from '../../pack/join.ts';

/** A sentence when a fact comes in an order that the trade avoids, by how the pack stood before. */
export function findOutOfOrder(pack: PackState, fact: Fact, profile: StringPlan): string | null {
  const isExposing = pack.isCaseOpen && pack.bareJoints.length > 0;
  switch (fact.kind) {
    case 'connectors':
      return fact.are !== 'closed' && pack.isPlugIn ? 'HV connectors were taken off with the plug in.' : null;
    case 'pack':
      return fact.isOnBench && pack.connectors === 'closed' ? 'The pack came out with its HV connectors stated on.' : null;
    case 'case':
      return fact.isOpen && pack.isPlugIn ? 'The case was opened with the plug in.' : null;
    case 'covers':
      return fact.areOff && (pack.isPlugIn || !pack.isCaseOpen)
        ? `The covers came off with the ${pack.isPlugIn ? 'plug in' : 'case shut'}.`
        : null;
    case 'frame':
    case 'links':
      if (fact.kind === 'links' && fact.areOpen && openableLinks(fact.links, profile).length < fact.links.length)
        return 'A link of a frame that opens as one was stated open with the frame on: it counts as joined until the frame is off.';
      if (!isExposing) return 'Links were moved with the case or the covers stated on.';
      return pack.isHarnessUnplugged ? null : 'Links were moved with the sense harness still plugged in.';
    case 'plug':
      if (fact.isIn) return isExposing ? 'The plug went in with the posts bare.' : null;
      return pack.isKeyAway ? null : 'The plug was pulled with the key stated in the car.';
    case 'twelveVolt':
      return fact.isOff && !pack.isKeyAway ? 'The 12 V came off with the key stated in the car.' : null;
    case 'key':
    case 'custody':
    case 'outletPosts':
    case 'harness':
    case 'charger':
    case 'charged':
    case 'contactors':
    case 'module':
      return null;
  }
}
