const LEAST_MILLISECOND = 500;
const LONGEST_MILLISECOND = 5000;

/**
 * How long to wait before asking again, in milliseconds: longer after each try that came to nothing, and not the same for all devices,
 * which would else come back together.
 * @param tries how many came to nothing, 1 or more
 */
export function pauseAfter(tries: number): number {
  return Math.min(LEAST_MILLISECOND * 2 ** (tries - 1), LONGEST_MILLISECOND) * (0.5 + Math.random());
}
