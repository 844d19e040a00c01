/**
 * Insulation of the pack against the chassis, by the method of two voltages, and the place of a single fault in the string.
 * Source: UN Regulation No. 100, annex "Measurement of isolation resistance using the vehicle's own rechargeable energy storage
 * system"; ISO 6469-1. Both from memory.
 */
import { answer, refuse, type Result } from '../result.ts';

/** Least resistance per volt of working voltage: direct-current circuits, and circuits joined to an alternating-current bus. */
export const REQUIRED_OHM_PER_VOLT = { dc: 100, ac: 500 } as const;

/** What a handheld meter still tells from nothing on a range for a pack, volt; common practice, no source. */
const LEAST_READ_VOLT = 0.01;

/** The larger pole voltage cannot exceed the pack's but for the error of two meters. */
const METER_SLACK = 1.05;

export interface InsulationInput {
  readonly packVolt: number;
  /** V1: the larger of the two pole-to-chassis voltages. */
  readonly higherVolt: number;
  /** V1': the same voltage with the known resistor between that pole and the chassis. */
  readonly withResistorVolt: number;
  readonly resistorOhm: number;
  /** Maximum working voltage; the pack's where left out. */
  readonly workingVolt?: number | undefined;
  readonly ohmPerVoltRequired?: number | undefined;
}

export interface Insulation {
  readonly ohm: number;
  readonly ohmPerVolt: number;
  readonly passes: boolean;
}

const NAMES: Record<keyof InsulationInput, string> = {
  packVolt: 'The voltage of the pack',
  higherVolt: 'The voltage of the higher pole',
  withResistorVolt: 'The voltage with the resistor in',
  resistorOhm: 'The resistor',
  workingVolt: 'The working voltage',
  ohmPerVoltRequired: 'What is asked per volt',
};

/**
 * Ri = R0 (Vb / V1' - Vb / V1), in ohm: the insulation of the pole nearer to the chassis, the lower of the two.
 * Refusals: `impossible` for a voltage or a resistor not above zero, and one that no meter tells from nothing; `mismatch` where the voltage rises with the resistor in or
 * exceeds the pack's, which means swapped leads or a wrong pole.
 */
export function findInsulation(input: InsulationInput): Result<Insulation> {
  const {
    packVolt,
    higherVolt,
    withResistorVolt,
    resistorOhm,
    workingVolt = packVolt,
    ohmPerVoltRequired = REQUIRED_OHM_PER_VOLT.dc,
  } = input;
  const given = { packVolt, higherVolt, withResistorVolt, resistorOhm, workingVolt, ohmPerVoltRequired };
  for (const [name, value] of Object.entries(given) as [keyof typeof given, number][])
    if (!(value > 0) || !Number.isFinite(value))
      return refuse(
        'impossible',
        `${NAMES[name]} must be above zero, ${value} came. A pole that shows 0 V to the chassis needs an insulation tester.`,
        [name],
      );
  if (withResistorVolt < LEAST_READ_VOLT)
    return refuse(
      'impossible',
      `${withResistorVolt} V is less than a meter tells from nothing: the lead hangs free, or take an insulation tester.`,
      ['withResistorVolt'],
    );
  if (higherVolt > packVolt * METER_SLACK)
    return refuse('mismatch', `A pole cannot stand ${higherVolt} V off the chassis in a pack of ${packVolt} V.`, ['higherVolt']);
  if (withResistorVolt > higherVolt)
    return refuse('mismatch', 'The voltage rose with the resistor in: it lies at the other pole, or the leads are swapped.', [
      'withResistorVolt',
    ]);
  const ohm = resistorOhm * (packVolt / withResistorVolt - packVolt / higherVolt);
  const ohmPerVolt = ohm / workingVolt;
  return answer({ ohm, ohmPerVolt, passes: ohmPerVolt >= ohmPerVoltRequired });
}

export interface FaultPlaceInput {
  readonly moduleCount: number;
  /** Magnitude between the negative pole and the chassis. */
  readonly negativeToChassisVolt: number;
  readonly positiveToChassisVolt: number;
  /** What each module stands at, string order; left out: all alike. */
  readonly moduleVolts?: readonly number[] | undefined;
}

/**
 * How many modules up from the negative end a single insulation fault lies: N V- / (V- + V+). Whole modules: 8.0 is the joint of
 * modules 8 and 9. It follows from the divider that one weak place makes of an unloaded string of equal modules; where the modules' voltages are
 * given, the same share of the string is walked module by module.
 * Refusals: `impossible` for a negative voltage or no module, `empty` when both voltages are zero, `mismatch` for voltages of another
 * number of modules.
 */
export function findFaultPlace(input: FaultPlaceInput): Result<{ readonly modulesFromNegative: number }> {
  const { moduleCount, negativeToChassisVolt: minus, positiveToChassisVolt: plus } = input;
  if (!Number.isInteger(moduleCount) || moduleCount < 1)
    return refuse('impossible', `A string has a whole number of modules, ${moduleCount} came.`, ['moduleCount']);
  if (!(minus >= 0)) return refuse('impossible', 'Give the voltage without its sign.', ['negativeToChassisVolt']);
  if (!(plus >= 0)) return refuse('impossible', 'Give the voltage without its sign.', ['positiveToChassisVolt']);
  if (minus + plus === 0)
    return refuse('empty', 'Neither pole stands off the chassis: there is no fault to place.', ['negativeToChassisVolt']);
  const { moduleVolts } = input;
  if (!moduleVolts) return answer({ modulesFromNegative: (moduleCount * minus) / (minus + plus) });
  if (moduleVolts.length !== moduleCount)
    return refuse('mismatch', `${moduleVolts.length} voltages do not fit ${moduleCount} modules.`, ['moduleVolts']);
  const odd = moduleVolts.findIndex((v) => !(v > 0));
  if (odd >= 0) return refuse('impossible', `Module ${odd + 1} cannot stand at ${moduleVolts[odd]} V here.`, ['moduleVolts', odd]);
  let left = (moduleVolts.reduce((sum, v) => sum + v, 0) * minus) / (minus + plus);
  let walked = 0;
  for (const volt of moduleVolts) {
    if (left <= volt) return answer({ modulesFromNegative: walked + left / volt });
    left -= volt;
    walked++;
  }
  return answer({ modulesFromNegative: moduleCount });
}
