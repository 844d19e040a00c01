/**
 * What one fault of the wiring explains the voltages that a car shows, against modules known from the bench: the leads of the sense
 * harness as they would read by Kirchhoff, one fault at a time, judged by residuals with a charge for every free choice (Akaike 1974).
 */
import { answer, refuse, type Result } from '../result.ts';
import { median } from '../stats/robust.ts';

export type WiringFault =
  | { readonly kind: 'none' }
  /** Two neighbouring sense leads, at the ends of this block, on each other's posts. */
  | { readonly kind: 'leadsSwapped'; readonly block: number }
  /** The sense lead between this block and the next hangs in the air: eyelet or pin without contact. */
  | { readonly kind: 'leadOpen'; readonly block: number }
  /** A module of the block lies the wrong way round. */
  | { readonly kind: 'moduleTurned'; readonly block: number; readonly place: number }
  /** Bars or nuts of the block drop so much. */
  | { readonly kind: 'badBar'; readonly block: number; readonly dropVolt: number };

export interface Explanation {
  readonly fault: WiringFault;
  /** Root of the mean square of what is left unexplained, volt a block. */
  readonly residualVolt: number;
  /** Less is better; two apart is a difference worth a word, ten is plain. */
  readonly score: number;
  readonly sentence: string;
}

export interface KnownBlocks {
  /** As the car shows them, block 1 first. */
  readonly scannedVolts: readonly number[];
  /** As the bench measured the modules, place 1 first. */
  readonly moduleVolts: readonly number[];
  /** Modules in each block. */
  readonly blocks: readonly number[];
  /** What a reading may be off by, volt a block: the larger of the display's step and the meters' difference. */
  readonly toleranceVolt: number;
}

/**
 * Every single fault, the best explanation first. Charge taken or drawn since the bench is the same for every module and is allowed for.
 * Refusals: `mismatch` where counts do not fit, `impossible` for a tolerance of nothing.
 */
export function explainWiring({ scannedVolts, moduleVolts, blocks, toleranceVolt }: KnownBlocks): Result<readonly Explanation[]> {
  if (scannedVolts.length !== blocks.length)
    return refuse('mismatch', `${blocks.length} blocks, ${scannedVolts.length} scanned.`, ['scannedVolts']);
  const held = blocks.reduce((a, b) => a + b, 0);
  if (held !== moduleVolts.length)
    return refuse('mismatch', `The blocks hold ${held} modules, ${moduleVolts.length} were measured.`, ['moduleVolts']);
  if (!(toleranceVolt > 0)) return refuse('impossible', 'Readings without any tolerance explain nothing.', ['toleranceVolt']);
  const sums = sumBlocks(moduleVolts, blocks);
  // a block without a fault is the usual: the middle one says how far all have moved since
  const shift = median(scannedVolts.map((v, i) => (v - (sums[i] ?? 0)) / (blocks[i] ?? 1)));
  const expected = sums.map((sum, i) => sum + shift * (blocks[i] ?? 1));
  const judge = (fault: WiringFault, volts: readonly number[], choices: number): Explanation => {
    const squares = scannedVolts.reduce((sum, v, i) => sum + (v - (volts[i] ?? 0)) ** 2, 0);
    const score = squares / toleranceVolt ** 2 + 2 * choices;
    return { fault, residualVolt: Math.sqrt(squares / scannedVolts.length), score, sentence: sayFault(fault) };
  };
  const tried = [judge({ kind: 'none' }, expected, 0)];
  for (const [i] of blocks.entries()) {
    const block = i + 1;
    const own = expected[i] ?? 0;
    const [before, after] = [expected[i - 1], expected[i + 1]];
    const changed = new Map<number, number>([[i, -own]]);
    // lead i reads what lead i + 1 should, and the other way round
    if (before !== undefined) changed.set(i - 1, before + own);
    if (after !== undefined) changed.set(i + 1, after + own);
    tried.push(judge({ kind: 'leadsSwapped', block }, withChanged(expected, changed), 1));
    if (after !== undefined) {
      const half = (own + after) / 2;
      tried.push(judge({ kind: 'leadOpen', block }, withChanged(expected, new Map([[i, half], [i + 1, half]])), 1)); // prettier-ignore
    }
    const dropVolt = own - (scannedVolts[i] ?? 0);
    if (dropVolt > 0) tried.push(judge({ kind: 'badBar', block, dropVolt }, withChanged(expected, new Map([[i, own - dropVolt]])), 2));
  }
  for (const { place, block, volt } of placesOf(moduleVolts, blocks)) {
    const i = block - 1;
    tried.push(
      judge({ kind: 'moduleTurned', block, place }, withChanged(expected, new Map([[i, (expected[i] ?? 0) - 2 * (volt + shift)]])), 1),
    );
  }
  return answer(tried.sort((a, b) => a.score - b.score));
}

function sumBlocks(moduleVolts: readonly number[], blocks: readonly number[]): number[] {
  const sums = blocks.map(() => 0);
  for (const { block, volt } of placesOf(moduleVolts, blocks)) sums[block - 1] = (sums[block - 1] ?? 0) + volt;
  return sums;
}

function placesOf(moduleVolts: readonly number[], blocks: readonly number[]) {
  const blockOf = blocks.flatMap((size, i) => Array.from({ length: size }, () => i + 1));
  return moduleVolts.map((volt, i) => ({ place: i + 1, block: blockOf[i] ?? 1, volt }));
}

function withChanged(volts: readonly number[], changed: ReadonlyMap<number, number>): number[] {
  return volts.map((v, i) => changed.get(i) ?? v);
}

function sayFault(fault: WiringFault): string {
  switch (fault.kind) {
    case 'none':
      return 'The wiring is as it should be.';
    case 'leadsSwapped':
      return `The sense leads at both ends of block ${fault.block} are swapped.`;
    case 'leadOpen':
      return `The sense lead between blocks ${fault.block} and ${fault.block + 1} has no contact: its eyelet or its pin.`;
    case 'moduleTurned':
      return `Module ${fault.place}, in block ${fault.block}, lies the wrong way round.`;
    case 'badBar':
      return `Block ${fault.block} lacks ${fault.dropVolt.toFixed(2)} V: a weak module, a bar or a nut in it.`;
  }
}
