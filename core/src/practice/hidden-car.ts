/**
 * The car that a practice job hides: what a scan reads of it. It follows what the log says was done: the modules that lie in it now, the
 * plug, the 12 V, what was cleared and driven. Physics only; nothing of it is shown but readings.
 */
import { blockPlaces, type Profile } from '../pack/profile.ts';
import type { CodeStatus, Readiness } from '../scan/general.ts';
import type { Scanned } from '../scan/scan-map.ts';

export interface HiddenCar {
  /** At rest, volt, place 1 first; null where nobody read it and nothing hides it. */
  readonly moduleVolts: readonly (number | null)[];
  readonly moduleMilliohm: readonly (number | null)[];
  /** Capacity of each module, ampere-hour; null: as new. */
  readonly moduleAh: readonly (number | null)[];
  readonly isPlugLatched: boolean;
  readonly isAuxiliaryLow: boolean;
  /** Blocks that were weak when the car came, from 1. */
  readonly weakBlocks: readonly number[];
  readonly wasCleared: boolean;
  /** A road test since the last clearing. */
  readonly wasDriven: boolean;
}

/** How the car is used while it is scanned. */
export interface CarLoad {
  readonly ampere: number;
  /** How long it has been on, second. */
  readonly second: number;
}

/** A block lags where it lacks so much a module, volt. */
const LAG_VOLT = 0.25;
/** Bars and nuts of a block. */
const BAR_MILLIOHM = 0.4;
const START_PERCENT = 72;

/** Volts of the blocks under a load; what was drawn takes from each module by its own capacity. */
export function blockVoltsOf(car: HiddenCar, profile: Profile, { ampere, second }: CarLoad): number[] {
  const { nominalVolt, nominalCapacityAh, typicalMilliohm } = profile.moduleType;
  return blockPlaces(profile.blocks).map(({ from, to }) => {
    let volt = -(ampere * BAR_MILLIOHM * (to - from + 1)) / 1000;
    for (let place = from; place <= to; place++) {
      const [rest, milliohm, ah] = [car.moduleVolts[place - 1], car.moduleMilliohm[place - 1], car.moduleAh[place - 1]];
      const drawn = (ampere * second) / 3600 / (ah ?? nominalCapacityAh);
      // flat in the middle, falling away once it is nearly empty
      const sag = nominalVolt * (0.06 * drawn + 0.25 * Math.max(0, drawn - 0.62) ** 2 * 12);
      volt += (rest ?? 1.09 * nominalVolt) - (ampere * (milliohm ?? typicalMilliohm)) / 1000 - sag;
    }
    return volt;
  });
}

/** Charge that the car shows. */
export function chargePercentOf(profile: Profile, { ampere, second }: CarLoad): number {
  return Math.max(0, START_PERCENT - (100 * ampere * second) / 3600 / profile.moduleType.nominalCapacityAh);
}

/** One figure of the battery unit. */
export function figureOf(car: HiddenCar, profile: Profile, load: CarLoad, what: Scanned, number: number): number {
  switch (what) {
    case 'blockVolt':
      return blockVoltsOf(car, profile, load)[number - 1] ?? 0;
    case 'packVolt':
      return blockVoltsOf(car, profile, load).reduce((a, b) => a + b, 0);
    case 'celsius':
      return 24 + ((number * 7) % 5) + (load.ampere * load.second) / 4000;
    case 'ampere':
      return load.ampere;
    case 'chargePercent':
      return chargePercentOf(profile, load);
  }
}

/** Blocks that lag the middle one at rest. */
function laggingBlocks(car: HiddenCar, profile: Profile): number[] {
  const volts = blockVoltsOf(car, profile, { ampere: 0, second: 0 });
  const perModule = volts.map((v, i) => v / (profile.blocks[i] ?? 1));
  const middle = [...perModule].sort((a, b) => a - b)[perModule.length >> 1] ?? 0;
  return perModule.flatMap((v, i) => (v < middle - LAG_VOLT ? [i + 1] : []));
}

/** Codes of a status: as the car came until they are cleared; afterwards what still is so, once it was driven. */
export function codesOf(car: HiddenCar, profile: Profile, status: CodeStatus): string[] {
  const own = (block: number): string[] => {
    const plan = profile.scan?.codes.find((c) => c.block === block);
    return plan ? [plan.code, ...(plan.comesWith ? [plan.comesWith] : [])] : [];
  };
  const lagging = laggingBlocks(car, profile).flatMap(own);
  const came = car.weakBlocks.flatMap(own);
  const open = [...(car.isPlugLatched ? [] : ['P0A0D']), ...(car.isAuxiliaryLow ? ['P0562'] : [])];
  const list = (): string[] => {
    if (!car.wasCleared) return status === 'pending' ? lagging : status === 'stored' ? [...came, ...open] : came;
    if (status === 'pending') return [...(car.wasDriven ? lagging : []), ...open];
    if (status === 'stored') return [...(car.wasDriven ? lagging : []), ...open];
    // left by clearing until the car has driven and found it gone
    return car.wasDriven ? came.filter((c) => lagging.includes(c)) : came;
  };
  return [...new Set(list())];
}

/** Readiness after clearing is open until the car was driven. */
export function readinessOf(car: HiddenCar, profile: Profile): Readiness {
  const codeCount = codesOf(car, profile, 'stored').length;
  return { isLampOn: codeCount > 0, codeCount, incomplete: car.wasCleared && !car.wasDriven ? ['catalyst', 'oxygen sensor'] : [] };
}
