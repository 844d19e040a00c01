/** The fan that a practice job hides: what it draws and moves on a bench supply. Physics only; nothing of it is shown but readings. */

export interface HiddenFan {
  /** What it moves against nothing on 12 V. */
  readonly freeCubicMetrePerHour: number;
  /** Share of its wheel that is shut. */
  readonly blockedShare: number;
  /** How far its bearing is gone, 0 to 1. */
  readonly wear: number;
}

export interface FanReading {
  readonly ampere: number;
  readonly cubicMetrePerHour: number;
}

const [RATED_VOLT, RATED_AMPERE] = [12, 1.4];
/** A good bearing lets go from here on, a bad one later. */
const [START_VOLT, WORN_START_VOLT] = [2.5, 11];

/** The flow goes with the speed and so with the voltage, the power of the wheel with its square and with what it moves. */
export function turnFan({ freeCubicMetrePerHour, blockedShare, wear }: HiddenFan, volt: number): FanReading {
  const share = volt / RATED_VOLT;
  const start = START_VOLT + wear * (WORN_START_VOLT - START_VOLT);
  if (volt < start) return { ampere: 0.3 * RATED_AMPERE * share, cubicMetrePerHour: 0 };
  return {
    ampere: RATED_AMPERE * share * share * (1 - 0.4 * blockedShare) * (1 + wear),
    cubicMetrePerHour: freeCubicMetrePerHour * share * (1 - blockedShare) * (1 - 0.5 * wear),
  };
}
