/** What a fan is worth on its bench: by hand and ear, and by what it moves and draws over the voltage. Common practice, no source. */

export const FAN_VERDICTS = ['free', 'worn', 'blocked', 'seized'] as const;
export type FanVerdict = (typeof FAN_VERDICTS)[number];

export interface FanPoint {
  readonly volt: number;
  readonly ampere: number;
  readonly cubicMetrePerHour: number;
}

export interface FanJudgement {
  readonly verdict: FanVerdict;
  /** Whether it may go back. */
  readonly isFit: boolean;
  /** As it follows on the fan: `it runs free`. */
  readonly sentence: string;
  /** Lowest voltage at which it moved air; null where it never did, or nobody turned the voltage up. */
  readonly startVolt: number | null;
}

/** A healthy fan begins below this; common practice, no source. */
const SLOW_START_VOLT = 6;
/** Below this share of its free flow something sits in its way, or its bearing brakes it. */
const BLOCKED_SHARE = 0.6;
/** A flow that no meter of this kind tells from none. */
const STILL_CUBIC_METRE = 2;
/** Drawing so much for what it moves, it works against its own bearing: ampere at 12 V of a usual fan, with half as much again. */
const BRAKED_AMPERE = 2.2;
const RATED_VOLT = 12;

/** By hand and ear. */
export function judgeBySound({
  spins,
  noise,
  hasPlay,
  startVolt,
}: {
  readonly spins: boolean;
  readonly noise: 'none' | 'rough' | 'grinding';
  readonly hasPlay: boolean;
  readonly startVolt: number | null;
}): FanJudgement {
  if (!spins) return { verdict: 'seized', isFit: false, sentence: 'it does not turn on 12 V', startVolt: null };
  if (noise === 'grinding') return { verdict: 'worn', isFit: false, sentence: 'its bearing grinds', startVolt };
  const isSlow = startVolt !== null && startVolt > SLOW_START_VOLT;
  if (noise === 'rough' || hasPlay || isSlow) {
    const why = isSlow ? `it turns only from ${startVolt} V` : hasPlay ? 'its wheel has play' : 'it runs rough';
    return { verdict: 'worn', isFit: true, sentence: `${why}: usable, and looked at sooner`, startVolt };
  }
  return { verdict: 'free', isFit: true, sentence: 'it runs free', startVolt };
}

/**
 * By its curve; null without a point.
 * @param freeCubicMetrePerHour what it moves against nothing on 12 V
 */
export function judgeByCurve(points: readonly FanPoint[], freeCubicMetrePerHour: number): FanJudgement | null {
  const rising = [...points].sort((a, b) => a.volt - b.volt);
  const top = rising.at(-1);
  if (!top) return null;
  const startVolt = rising.find((p) => p.cubicMetrePerHour > STILL_CUBIC_METRE)?.volt ?? null;
  if (startVolt === null) {
    const draws = top.ampere >= 0.05 ? `it draws ${top.ampere.toFixed(1)} A and stands still` : 'it draws nothing: look at its plug first';
    return { verdict: 'seized', isFit: false, sentence: draws, startVolt };
  }
  // what it moves goes with the voltage
  const share = top.cubicMetrePerHour / (freeCubicMetrePerHour * (top.volt / RATED_VOLT));
  if (share < BLOCKED_SHARE) {
    const moves = `it moves ${(100 * share).toFixed(0)} % of what it would free`;
    return top.ampere > BRAKED_AMPERE * (top.volt / RATED_VOLT)
      ? { verdict: 'worn', isFit: false, sentence: `${moves} and draws ${top.ampere.toFixed(1)} A: its bearing brakes it`, startVolt }
      : { verdict: 'blocked', isFit: false, sentence: `${moves}: something sits in its wheel`, startVolt };
  }
  if (startVolt > SLOW_START_VOLT)
    return { verdict: 'worn', isFit: true, sentence: `it turns only from ${startVolt} V: usable, and looked at sooner`, startVolt };
  return { verdict: 'free', isFit: true, sentence: 'it runs free', startVolt };
}
