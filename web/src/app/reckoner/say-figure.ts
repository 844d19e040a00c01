/** Figures of an answer with as many digits as a hand can use, in the unit that they are spoken in. */

export interface Figure {
  readonly text: string;
  readonly unit: string;
}

/** Most decimals that an instrument of the trade gives, by unit; what has no unit is said with four digits. */
const DECIMALS: Readonly<Record<string, number>> = {
  ...{ V: 3, mV: 1, A: 2, Ah: 3, Wh: 2, mΩ: 2, 'N·m': 2, 'lbf·in': 1, 'lbf·ft': 2, N: 0, '°C': 1, K: 1, '°': 1 },
  ...{ s: 1, min: 1, h: 2, months: 1, kg: 2, cm: 1, mm: 2, 'mm²': 2, 'm³/h': 1, MPa: 1, J: 2, '%': 1, km: 0, ms: 0 },
};
const SIGNIFICANT = 4;
const SCALES: Readonly<Record<string, readonly (readonly [number, string])[]>> = {
  Ω: [
    [1e9, 'GΩ'],
    [1e6, 'MΩ'],
    [1e3, 'kΩ'],
  ],
  N: [[1e3, 'kN']],
  J: [[1e3, 'kJ']],
};

/** @param isShare a part of one, said in percent */
export function sayFigure(value: number, unit: string, isShare = false): Figure {
  if (!Number.isFinite(value)) return { text: String(value), unit };
  if (isShare) return { text: trim((100 * value).toFixed(1)), unit: '%' };
  const scale = SCALES[unit]?.find(([least]) => Math.abs(value) >= least);
  if (scale) return { text: significant(value / scale[0]), unit: scale[1] };
  if (unit === 's' && value >= 120) {
    const whole = Math.round(value);
    return { text: `${whole} s, or ${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`, unit: 'min' };
  }
  const decimals = DECIMALS[unit];
  if (Number.isInteger(value) || decimals === undefined)
    return { text: Number.isInteger(value) ? String(value) : significant(value), unit };
  const text = trim(value.toFixed(decimals));
  // never nothing where there is something
  return { text: Number(text) === 0 && value !== 0 ? significant(value) : text, unit };
}

function significant(value: number): string {
  return String(Number(value.toPrecision(SIGNIFICANT)));
}

function trim(text: string): string {
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}
