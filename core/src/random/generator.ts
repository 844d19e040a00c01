/** Seeded pseudo-randomness, handed in wherever it is needed: the same seed gives the same numbers everywhere. */

export interface Generator {
  /** Uniform in [0, 1). */
  next(): number;
  /** Uniform whole number in [0, below). */
  below(below: number): number;
  /** Normal with the given mean and standard deviation (Box and Muller 1958). */
  normal(mean: number, deviation: number): number;
}

/** The mulberry32 generator (public domain, T. Ettinger): 32 bits of state, period 2^32; for data and search, not secrets. */
export function createGenerator(seed: number): Generator {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    below: (below) => Math.floor(next() * below),
    normal: (mean, deviation) => mean + deviation * Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
  };
}

/** A shuffled copy (Fisher and Yates). */
export function shuffle<T>(items: readonly T[], generator: Generator): T[] {
  const copy = [...items];
  for (let i = copy.length - 1; i > 0; i--) {
    const j = generator.below(i + 1);
    const held = copy[i] as T;
    copy[i] = copy[j] as T;
    copy[j] = held;
  }
  return copy;
}
