/** Whether gloves are asked for, and of which class: it follows the voltage within reach, never the clock. */
import { GLOVE_VOLT_DC, type GloveClass } from '../gear/gear.ts';

export interface GloveNeed {
  readonly areNeeded: boolean;
  /** Least class that bears the voltage (ASTM D120, IEC 60903; from memory); null where none is needed or none is enough. */
  readonly leastClass: GloveClass | null;
  readonly reason: string;
}

/** Least class in use on vehicles: class 0 under leather protectors. Common practice, no source. */
const CLASSES: readonly GloveClass[] = ['0', '1', '2', '3', '4'];

/**
 * @param reachableVolt highest voltage within reach now
 * @param nextVolt highest voltage within reach once the next planned act is done; null where none is planned
 * @param markVolt from which direct voltage a conductor counts as live
 */
export function findGloveNeed(reachableVolt: number, nextVolt: number | null, markVolt: number): GloveNeed {
  const volt = Math.max(reachableVolt, nextVolt ?? 0);
  if (volt < markVolt)
    return {
      areNeeded: false,
      leastClass: null,
      reason: `No ${markVolt} V within reach now or after the next step. A dropped tool still burns.`,
    };
  const leastClass = CLASSES.find((c) => GLOVE_VOLT_DC[c] >= volt) ?? null;
  const when =
    reachableVolt >= markVolt ? `${reachableVolt.toFixed(0)} V within reach` : `the next step brings ${volt.toFixed(0)} V within reach`;
  return {
    areNeeded: true,
    leastClass,
    reason: leastClass ? `Gloves on, class ${leastClass}: ${when}.` : `No glove bears this: ${when}.`,
  };
}
