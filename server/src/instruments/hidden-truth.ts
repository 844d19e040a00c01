/**
 * What the simulated instruments of a demonstration measure: a hidden pack for each job, the same at every start. Nothing here is
 * ever shown or kept; only what an instrument reads of it is.
 */
import { createHash } from 'node:crypto';
import { dischargeVolt, type JobState, type Profile, type ProofEntry } from '@estuarine/core';

export interface HiddenTruth {
  readonly stringVolt: number;
  /** Time constant of the DC link with its bleed resistor. */
  readonly tauSecond: number;
  /** The contactors stay shut: the posts stand at the string's voltage unless the plug opens the string. */
  readonly isContactorStuck: boolean;
  readonly batteryVolt: number;
  /** Leaks of the two poles against the chassis, in ohm. */
  readonly minusLeakOhm: number;
  readonly plusLeakOhm: number;
}

const SPECIAL: Readonly<Record<string, Partial<HiddenTruth>>> = {
  'demo-curlew': { tauSecond: 160 },
  'demo-plover': { isContactorStuck: true },
};

export function hiddenTruth(jobId: string, profile: Profile): HiddenTruth {
  const roll = createHash('sha256').update(jobId).digest();
  const share = (i: number): number => (roll[i] ?? 0) / 255;
  const { nominalVolt, maximumModuleVolt } = profile.moduleType;
  return {
    stringVolt: profile.moduleCount * (nominalVolt + (maximumModuleVolt - nominalVolt) * (0.2 + 0.1 * share(0))),
    tauSecond: 60 + 40 * share(1),
    isContactorStuck: false,
    batteryVolt: 12.2 + 0.5 * share(2),
    minusLeakOhm: 2e6 + 3e6 * share(3),
    plusLeakOhm: 2e6 + 3e6 * share(4),
    ...SPECIAL[jobId],
  };
}

/**
 * Voltage between the leads, in volt.
 * @param knownVolt of the proving unit, where that is the known source; null: the 12 V battery
 * @param now server time, epoch milliseconds
 */
export function leadVolt(
  place: ProofEntry,
  truth: HiddenTruth,
  state: JobState,
  profile: Profile,
  knownVolt: number | null,
  now: number,
): number {
  if (place === 'knownBefore' || place === 'knownAfter') return knownVolt ?? truth.batteryVolt;
  const posts = postVolt(truth, state, profile.plug.opensLink !== null, now);
  const { plusLeakOhm, minusLeakOhm } = truth;
  const plusShare = plusLeakOhm / (plusLeakOhm + minusLeakOhm);
  switch (place) {
    case 'plusMinus':
      return posts;
    case 'minusPlus':
      return -posts;
    case 'plusChassis':
      return posts * plusShare;
    case 'minusChassis':
      return -posts * (1 - plusShare);
  }
}

/** Voltage at the car-side posts: the string while it reaches them, then the capacitors as they drain. */
function postVolt(truth: HiddenTruth, state: JobState, plugOpensLink: boolean, now: number): number {
  const { plugOutAt, twelveVoltOffAt } = state.isolation;
  // contactors fall open when the 12 V goes, or the plug's interlock; stuck ones leave it to a plug that opens the string
  const cuts = truth.isContactorStuck ? [plugOpensLink ? plugOutAt : null] : [plugOutAt, twelveVoltOffAt];
  const opened = cuts.filter((at) => at !== null).map((at) => Date.parse(at));
  if (opened.length === 0) return truth.stringVolt;
  return dischargeVolt(truth.stringVolt, truth.tauSecond, Math.max(0, (now - Math.min(...opened)) / 1000));
}
