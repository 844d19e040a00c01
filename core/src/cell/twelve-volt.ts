/**
 * The 12 V battery of a hybrid: charge by its rest voltage, and whether it holds under load. Rest voltages of flooded cells at 27 °C and
 * the least voltage of a load test by temperature (half the cold cranking amperes for 15 s) are the tables of the Battery Council
 * International's service manual, from memory; a cell of absorbed glass mat stands some 0.2 V higher, common practice, no source.
 */

export const AUXILIARY_KINDS = ['flooded', 'glassMat'] as const;
export type AuxiliaryKind = (typeof AUXILIARY_KINDS)[number];

export interface AuxiliaryReading {
  readonly kind: AuxiliaryKind;
  /** After hours without charge or load. */
  readonly restVolt: number;
  /** At the end of the load; null where none was put on. */
  readonly loadVolt: number | null;
  readonly celsius: number;
}

export interface AuxiliaryVerdict {
  readonly verdict: 'fit' | 'charge' | 'replace' | 'loadIt';
  readonly chargePercent: number;
  /** Least voltage under load at this temperature. */
  readonly leastLoadVolt: number;
  readonly sentence: string;
}

/** [percent, volt] at rest, flooded. */
const REST: readonly (readonly [number, number])[] = [
  [0, 11.89],
  [25, 12.06],
  [50, 12.24],
  [75, 12.45],
  [100, 12.65],
];
const GLASS_MAT_LIFT = 0.2;
/** [°C, volt] under load: 0, 10, … 70 °F. */
const LOAD: readonly (readonly [number, number])[] = [
  [-17.8, 8.5],
  [-12.2, 8.7],
  [-6.7, 8.9],
  [-1.1, 9.1],
  [4.4, 9.3],
  [10, 9.4],
  [15.6, 9.5],
  [21.1, 9.6],
];
/** A load test below this charge condemns what is only empty. */
const LEAST_PERCENT = 75;
/** Six cells, one of them shorted. */
const SHORTED_VOLT = 10.8;

/** On straight lines between the points, held at both ends; the points rise. */
function lookUp(table: readonly (readonly [number, number])[], at: number, from: 0 | 1): number {
  const to = from === 0 ? 1 : 0;
  const above = table.findIndex((row) => row[from] >= at);
  if (above < 0) return (table.at(-1) as readonly [number, number])[to];
  const [high, low] = [table[above], table[above - 1]] as [readonly [number, number], readonly [number, number] | undefined];
  if (!low) return high[to];
  return low[to] + ((at - low[from]) / (high[from] - low[from])) * (high[to] - low[to]);
}

/** What a 12 V battery is worth, and what to do with it. */
export function judgeAuxiliary({ kind, restVolt, loadVolt, celsius }: AuxiliaryReading): AuxiliaryVerdict {
  const chargePercent = lookUp(REST, restVolt - (kind === 'glassMat' ? GLASS_MAT_LIFT : 0), 1);
  const leastLoadVolt = lookUp(LOAD, celsius, 0);
  const found = { chargePercent, leastLoadVolt };
  const least = `${leastLoadVolt.toFixed(1)} V at ${celsius.toFixed(0)} °C`;
  if (restVolt < SHORTED_VOLT)
    return { ...found, verdict: 'replace', sentence: `${restVolt.toFixed(1)} V at rest: a cell is shorted, or it lay flat for long. Charge it once; another one where it stays.` }; // prettier-ignore
  if (loadVolt !== null && loadVolt >= leastLoadVolt) {
    const isLow = chargePercent < LEAST_PERCENT;
    return isLow
      ? { ...found, verdict: 'charge', sentence: `It holds ${loadVolt.toFixed(1)} V under load and stands at ${chargePercent.toFixed(0)} %: charge it.` } // prettier-ignore
      : { ...found, verdict: 'fit', sentence: `It holds ${loadVolt.toFixed(1)} V under load (least ${least}).` };
  }
  if (chargePercent < LEAST_PERCENT)
    return { ...found, verdict: 'charge', sentence: `It stands at ${chargePercent.toFixed(0)} %. Charge it, then load it: a flat battery fails any load.` }; // prettier-ignore
  if (loadVolt === null)
    return { ...found, verdict: 'loadIt', sentence: `It stands at ${chargePercent.toFixed(0)} %. Its rest voltage says nothing of what it holds: put the load on.` }; // prettier-ignore
  return { ...found, verdict: 'replace', sentence: `${loadVolt.toFixed(1)} V under load, least ${least}: another one.` };
}
