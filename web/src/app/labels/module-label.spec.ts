import jsQR from 'jsqr';
import { create } from 'qrcode';
import { KeyBurst } from './key-burst.ts';
import { readModuleLabel, writeModuleLabel } from './module-label.ts';

describe('the code of a module', () => {
  it('is read as it was written, with space around it, and nothing else is', () => {
    expect(readModuleLabel(` ${writeModuleLabel('07-03')}\n`)).toBe('07-03');
    for (const text of ['07-03', '#estuarine/module/', '#estuarine/module/../x', 'https://example.org/07-03', '#estuarine/job/1'])
      expect(readModuleLabel(text)).toBeNull();
  });
});

it('is read by the camera’s reader off the picture that the labels carry', () => {
  const code = writeModuleLabel('TI-114.07_03');
  const { size, data } = create(code, { errorCorrectionLevel: 'M' }).modules;
  const [scale, margin] = [4, 4];
  const side = (size + 2 * margin) * scale;
  const pixels = new Uint8ClampedArray(side * side * 4).fill(255);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const [column, row] = [Math.floor(x / scale) - margin, Math.floor(y / scale) - margin];
      const isInside = column >= 0 && row >= 0 && column < size && row < size;
      if (isInside && data[row * size + column]) pixels.fill(0, (y * side + x) * 4, (y * side + x) * 4 + 3);
    }
  expect(jsQR(pixels, side, side)?.data).toBe(code);
});

describe('a hand scanner', () => {
  const type = (text: string, gap: number, from = 0) => {
    const burst = new KeyBurst();
    return [...Array.from(text), 'Enter'].map((key, i) => burst.take(key, from + i * gap));
  };

  it('is told from fingers by its speed, and its keys are kept from fields and shortcuts', () => {
    const taken = type('#estuarine/module/S042', 8);
    expect(taken.at(-1)).toEqual({ isOurs: true, code: '#estuarine/module/S042' });
    expect(taken.slice(1).every((t) => t.isOurs)).toBe(true);
  });

  it('takes nothing from somebody who types the same by hand, or from fast keys that begin otherwise', () => {
    expect(type('#estuarine/module/S042', 120).every((t) => !t.isOurs && t.code === null)).toBe(true);
    expect(type('7.812', 5).every((t) => !t.isOurs && t.code === null)).toBe(true);
  });

  it('passes over the Shift between the letters', () => {
    const burst = new KeyBurst();
    let at = 0;
    for (const key of ['#', 'Shift', 'A', 'b']) burst.take(key, (at += 5));
    expect(burst.take('Enter', at + 5).code).toBe('#Ab');
  });
});
