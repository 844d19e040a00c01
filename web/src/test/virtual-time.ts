/** Time that passes only while a test waits: none sleeps, and none is slower where pauses are long. */

// taken before anything is put in its place: what is really under way (the device's disk, promises) goes on between two turns
const later = setTimeout;
/** Turns in which what is under way comes to its end before time passes. */
const TURNS = 6;
const STEP_MILLISECOND = 50;

/** From here on in this file, each test by its own clock. */
export function useVirtualTime(now = Date.now()): void {
  beforeEach(() => {
    jest.useFakeTimers({ now });
  });
  afterEach(() => {
    jest.useRealTimers();
  });
}

function turn(): Promise<void> {
  return new Promise((go) => later(go));
}

/** What is under way goes on; no time passes. */
export async function settle(turns = 2 * TURNS): Promise<void> {
  for (let i = 0; i < turns; i++) await turn();
}

/** Time passes, with what it brings. */
export async function pass(millisecond: number): Promise<void> {
  for (let left = millisecond; left > 0; left -= STEP_MILLISECOND) {
    jest.advanceTimersByTime(Math.min(left, STEP_MILLISECOND));
    await settle(TURNS);
  }
}

/** Waits for what must come within a minute. */
export async function until(isSo: () => boolean): Promise<void> {
  for (let passed = 0; passed < 60_000 && !isSo(); passed += STEP_MILLISECOND) {
    for (let i = 0; i < TURNS && !isSo(); i++) await turn();
    if (!isSo()) jest.advanceTimersByTime(STEP_MILLISECOND);
  }
  expect(isSo()).toBe(true);
}
