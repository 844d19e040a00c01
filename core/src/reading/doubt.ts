/**
 * Doubts about readings, spoken before a module is condemned: a value that repeats, a meter that stands still, neighbours
 * written into each other's rows, a row slipped by one. Common practice, no source; thresholds are ours and stand here.
 */
import { sayUnlikely, type ModuleFigurePlan, type ModuleQuantity } from '../quantity/module-quantities.ts';
import { median } from '../stats/robust.ts';

export const DOUBTS = ['unlikelyValue', 'repeatedValue', 'stuckMeter', 'swappedNeighbours', 'rowShifted', 'risesUnderLoad'] as const;

export interface Doubt {
  readonly kind: (typeof DOUBTS)[number];
  /** Places concerned, ascending. */
  readonly places: readonly number[];
  readonly sentence: string;
  /** Of a row that slipped: 1 where each reading of the later row is the next module's, -1 the former's. */
  readonly slip?: 1 | -1;
}

/** Readings of one sweep by place; places without a reading are absent. */
export type Row = ReadonlyMap<number, number>;

/** The same value this many times running is a repeat; from `STUCK_RUN` on the meter itself is doubted. */
const REPEAT_RUN = 3;
const STUCK_RUN = 5;
/** Shortest run of places that can show a slip. */
const SHIFT_RUN = 6;
/** How much better the slipped row must fit before it is said. */
const SHIFT_GAIN = 4;

/** Values that no module of the type usually has; stated all the same, so they stand with the question. */
export function doubtUnlikely(rows: Partial<Record<ModuleQuantity, Row>>, type: ModuleFigurePlan): Doubt[] {
  return (Object.entries(rows) as [ModuleQuantity, Row][]).flatMap(([quantity, row]) =>
    [...row].flatMap(([place, value]): Doubt[] => {
      const why = sayUnlikely(quantity, value, type);
      return why === null ? [] : [{ kind: 'unlikelyValue', places: [place], sentence: `Module ${place}: ${why}` }];
    }),
  );
}

/** Places whose voltage rose when the load came on, which no module's does: leads, rows or columns are swapped. */
export function doubtLoad(unloaded: Row, loaded: Row, resolution: number): Doubt[] {
  return [...loaded].flatMap(([place, under]): Doubt[] => {
    const before = unloaded.get(place);
    if (before === undefined || under <= before + resolution) return [];
    const sentence = `Module ${place} reads ${under} V under load and ${before} V without: no voltage rises under load. Read both again.`;
    return [{ kind: 'risesUnderLoad', places: [place], sentence }];
  });
}

/**
 * Doubts within one sweep.
 * @param least how many times running the same value is a repeat
 */
export function doubtSweep(row: Row, least = REPEAT_RUN): Doubt[] {
  const places = [...row.keys()].sort((a, b) => a - b);
  const doubts: Doubt[] = [];
  let run: number[] = [];
  const close = (): void => {
    const value = run[0] === undefined ? undefined : row.get(run[0]);
    if (run.length >= least && value !== undefined) {
      const where = `Modules ${run[0]} to ${run[run.length - 1]}`;
      doubts.push(
        run.length >= STUCK_RUN
          ? { kind: 'stuckMeter', places: run, sentence: `${where} all read ${value}. The meter may stand still or be on hold.` }
          : { kind: 'repeatedValue', places: run, sentence: `${where} all read ${value}. Was one value kept more than once?` },
      );
    }
    run = [];
  };
  for (const place of places) {
    const last = run[run.length - 1];
    if (last !== undefined && (place !== last + 1 || row.get(place) !== row.get(last))) close();
    run.push(place);
  }
  close();
  return doubts;
}

/**
 * Doubts that show only when two sweeps of the same modules are laid side by side: swapped neighbours, and a slip by one.
 * @param resolution of the meter in the unit of the readings; smaller differences say nothing
 */
export function doubtAgainst(before: Row, after: Row, resolution: number): Doubt[] {
  const places = [...before.keys()].filter((p) => after.has(p)).sort((a, b) => a - b);
  if (places.length < SHIFT_RUN) return [];
  const shift = findShift(before, after, places, resolution);
  return shift ? [shift] : findSwaps(before, after, places, resolution);
}

function findSwaps(before: Row, after: Row, places: readonly number[], resolution: number): Doubt[] {
  const drop = (from: number, to: number): number => (before.get(from) as number) - (after.get(to) as number);
  const middle = median(places.map((p) => drop(p, p)));
  const usual = Math.max(median(places.map((p) => Math.abs(drop(p, p) - middle))), resolution);
  const doubts: Doubt[] = [];
  for (const place of places) {
    const next = place + 1;
    if (!before.has(next) || !after.has(next)) continue;
    const here = drop(place, place) - middle;
    const there = drop(next, next) - middle;
    const crossed = Math.max(Math.abs(drop(place, next) - middle), Math.abs(drop(next, place) - middle));
    // two that are off to the same side do not fit crosswise either
    const areOff = Math.min(Math.abs(here), Math.abs(there)) > SHIFT_GAIN * usual;
    if (areOff && crossed <= 3 * usual) {
      doubts.push({
        kind: 'swappedNeighbours',
        places: [place, next],
        sentence: `Modules ${place} and ${next} fit if their two readings are swapped. Read both again.`,
      });
    }
  }
  return doubts;
}

/** The longest tail of places whose later readings fit their neighbours' much better than their own. */
function findShift(before: Row, after: Row, places: readonly number[], resolution: number): Doubt | null {
  for (let start = 0; start + SHIFT_RUN <= places.length; start++) {
    for (const by of [1, -1] as const) {
      const tail = places.slice(start).filter((p) => before.has(p + by));
      if (tail.length < SHIFT_RUN) continue;
      const own = misfit(tail.map((p) => (before.get(p) as number) - (after.get(p) as number)));
      const slipped = misfit(tail.map((p) => (before.get(p + by) as number) - (after.get(p) as number)));
      if (own > 3 * resolution && own > SHIFT_GAIN * Math.max(slipped, resolution)) {
        const slippedPlaces = dropFitting(before, after, tail, by, resolution);
        if (slippedPlaces.length < SHIFT_RUN) continue;
        return {
          kind: 'rowShifted',
          places: slippedPlaces,
          slip: by,
          sentence: `From module ${slippedPlaces[0]} on the readings fit the ${by === 1 ? 'next' : 'former'} module better than their own. Has the row slipped by one?`,
        };
      }
    }
  }
  return null;
}

/** Leaves out the first places of the tail that fit their own reading at least as well, or neither: the slip begins after them. */
function dropFitting(before: Row, after: Row, tail: readonly number[], by: number, resolution: number): number[] {
  const own = (p: number): number => (before.get(p) as number) - (after.get(p) as number);
  const slipped = (p: number): number => (before.get(p + by) as number) - (after.get(p) as number);
  const usual = median(tail.map(slipped));
  const fits = SHIFT_GAIN * Math.max(misfit(tail.map(slipped)), resolution);
  const first = tail.findIndex((p) => {
    const off = Math.abs(slipped(p) - usual);
    return off <= fits && off < Math.abs(own(p) - usual);
  });
  return tail.slice(Math.max(0, first));
}

function misfit(differences: readonly number[]): number {
  const middle = median(differences);
  return median(differences.map((d) => Math.abs(d - middle)));
}
