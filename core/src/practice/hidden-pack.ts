/**
 * The pack that a practice job hides: what a meter laid to it would read. Physics only; nothing of it is ever shown or kept, only what
 * an instrument reads of it.
 */
import { dischargeVolt } from '../isolate/discharge.ts';
import type { ProofEntry } from '../isolate/proof.ts';
import type { Profile } from '../pack/profile.ts';

export interface HiddenPack {
  readonly stringVolt: number;
  /** Time constant of the DC link with its bleed resistor. */
  readonly tauSecond: number;
  /** The contactors stay shut: the posts stand at the string's voltage unless the plug opens the string. */
  readonly isContactorStuck: boolean;
  readonly batteryVolt: number;
  /** Insulation of the two poles against the chassis, in ohm. */
  readonly minusInsulationOhm: number;
  readonly plusInsulationOhm: number;
}

/** A pack of a profile with its own figures. `share(i)` gives numbers from 0 to 1 that belong to the job, the same at every call. */
export function hidePack(profile: Profile, share: (i: number) => number): HiddenPack {
  const { nominalVolt, maximumModuleVolt } = profile.moduleType;
  return {
    stringVolt: profile.moduleCount * (nominalVolt + (maximumModuleVolt - nominalVolt) * (0.2 + 0.1 * share(0))),
    tauSecond: 60 + 40 * share(1),
    isContactorStuck: false,
    batteryVolt: 12.2 + 0.5 * share(2),
    minusInsulationOhm: 2e6 + 3e6 * share(3),
    plusInsulationOhm: 2e6 + 3e6 * share(4),
  };
}

/** What was done to the vehicle that a meter feels: when plug and 12 V came off, ISO 8601; null while in place. */
export interface Cuts {
  readonly plugOutAt: string | null;
  readonly twelveVoltOffAt: string | null;
}

/**
 * Voltage between the leads, in volt.
 * @param knownVolt of the proving unit, where that is the known source; null: the 12 V battery
 * @param now server time, epoch milliseconds
 */
export function leadVolt(
  place: ProofEntry,
  pack: HiddenPack,
  cuts: Cuts,
  plug: Profile['plug'],
  knownVolt: number | null,
  now: number,
): number {
  if (place === 'knownBefore' || place === 'knownAfter') return knownVolt ?? pack.batteryVolt;
  const posts = postVolt(pack, cuts, plug.opensLink !== null, now);
  const { plusInsulationOhm, minusInsulationOhm } = pack;
  const plusShare = plusInsulationOhm / (plusInsulationOhm + minusInsulationOhm);
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
function postVolt(pack: HiddenPack, { plugOutAt, twelveVoltOffAt }: Cuts, plugOpensLink: boolean, now: number): number {
  // contactors fall open when the 12 V goes, or the plug's interlock; stuck ones leave it to a plug that opens the string
  const cuts = pack.isContactorStuck ? [plugOpensLink ? plugOutAt : null] : [plugOutAt, twelveVoltOffAt];
  const opened = cuts.filter((at) => at !== null).map((at) => Date.parse(at));
  if (opened.length === 0) return pack.stringVolt;
  return dischargeVolt(pack.stringVolt, pack.tauSecond, Math.max(0, (now - Math.min(...opened)) / 1000));
}
