/**
 * A bad bar without opening the pack: the resistance of each block by its voltage at two currents, less that of its modules, is that of
 * its bars and nuts (Ohm's law; the method of two loads is that of IEC 61951-2, from memory).
 */
import { answer, refuse, type Result } from '../result.ts';
import { describeCrowd, median } from '../stats/robust.ts';

export interface LoadedBlocks {
  /** Discharge positive. */
  readonly ampere: number;
  readonly volts: readonly number[];
}

export interface BarRest {
  /** Which block, from 1. */
  readonly block: number;
  readonly milliohm: number;
  /** Bars and nuts: what the modules leave. */
  readonly restMilliohm: number;
  /** How far one last digit of the display can move it. */
  readonly stepMilliohm: number;
  /** Heat in bars and nuts at 100 A. */
  readonly wattAt100: number;
  /** Of the rest a module, against its crowd: blocks need not be of one size. */
  readonly modifiedZ: number;
  /** High against its crowd, and by more than the display can make up. */
  readonly standsApart: boolean;
}

/** The scale is never below a step of the display, so that no last digit makes a bar bad. */
const CUTOFF = 3.5;

/**
 * @param modulesMilliohm of the modules of each block, without bars
 * @param sizes modules in each block, with about as many bars
 * @param stepVolt smallest step of a block's voltage
 * Refusals: `mismatch` where the lists differ in length; `impossible` where the currents lie too close for the display.
 */
export function findBarRests(
  light: LoadedBlocks,
  heavy: LoadedBlocks,
  modulesMilliohm: readonly number[],
  sizes: readonly number[],
  stepVolt: number,
): Result<readonly BarRest[]> {
  const count = modulesMilliohm.length;
  if (light.volts.length !== count || heavy.volts.length !== count || sizes.length !== count)
    return refuse('mismatch', `${count} blocks, with ${light.volts.length} and ${heavy.volts.length} voltages.`, ['volts']);
  if (count === 0) return refuse('empty', 'A pack has at least one block.', ['volts']);
  const ampere = heavy.ampere - light.ampere;
  if (Math.abs(ampere) < 1)
    return refuse('impossible', `Both scans were made at about ${light.ampere} A. Resistance needs two different currents.`, ['ampere']);
  const stepMilliohm = (1000 * stepVolt) / Math.abs(ampere);
  const found = modulesMilliohm.map((modules, i) => {
    const milliohm = (1000 * ((light.volts[i] ?? 0) - (heavy.volts[i] ?? 0))) / ampere;
    return { milliohm, rest: milliohm - modules };
  });
  const perModule = found.map((f, i) => f.rest / (sizes[i] ?? 1));
  const middle = median(perModule);
  return answer(
    found.map(({ milliohm, rest }, i) => {
      const size = sizes[i] ?? 1;
      const { scale } = describeCrowd(perModule, Math.max(stepMilliohm / size, 1e-6));
      const modifiedZ = count > 2 ? (rest / size - middle) / scale : 0;
      return {
        ...{ block: i + 1, milliohm, restMilliohm: rest, stepMilliohm, wattAt100: Math.max(0, rest) * 10, modifiedZ },
        standsApart: modifiedZ > CUTOFF,
      };
    }),
  );
}
