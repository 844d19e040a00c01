import { SHIPPED, shippedProfile } from '../../test/job-fixture.ts';
import { drawBars } from './bar-chart.ts';
import { drawPack } from './pack-picture.ts';
import { drawPairs } from './pair-chart.ts';
import { DAY_INKS, writeSvg, type Picture, type Shape } from './picture.ts';

const FONTS = { words: 'W', figures: 'F' };
const texts = ({ shapes }: Picture): string[] => shapes.flatMap((s) => (s.kind === 'text' ? [s.text] : []));
const of = <K extends Shape['kind']>({ shapes }: Picture, kind: K) =>
  shapes.filter((s): s is Extract<Shape, { kind: K }> => s.kind === kind);

describe('writeSvg', () => {
  it('writes each shape with the colour of its part, and text that is only text', () => {
    const svg = writeSvg(
      {
        ...{ width: 10, height: 20 },
        shapes: [
          { kind: 'rect', x: 1, y: 2, width: 3, height: 4, fill: 'reed', line: 'ink', thick: 2, isDashed: true },
          { kind: 'circle', x: 5, y: 6, r: 1.23456, line: 'madder' },
          { kind: 'path', d: 'M0 0H4', x: 7, y: 8, line: 'ink' },
          { kind: 'text', x: 1, y: 2, text: '<script>"&"</script>', size: 9, ink: 'fog', anchor: 'end', isFigure: true, turn: -90 },
        ],
      },
      FONTS,
    );
    expect(svg).toContain('viewBox="0 0 10 20"');
    expect(svg).toContain(`fill="${DAY_INKS.reed}" stroke="${DAY_INKS.ink}" stroke-width="2" stroke-dasharray="4 3"`);
    expect(svg).toContain('r="1.23" fill="none"');
    expect(svg).toContain('transform="translate(7 8)"');
    expect(svg).toContain('font-family="F" font-size="9"');
    expect(svg).toContain('rotate(-90 1 2)');
    expect(svg).toContain('&lt;script&gt;&quot;&amp;&quot;&lt;/script&gt;');
    expect(svg).not.toContain('<script');
  });
});

describe('drawPack', () => {
  it.each(SHIPPED)('draws every module of %s within its frame, each with its number, and one bar a link', (id) => {
    const profile = shippedProfile(id);
    const picture = drawPack(profile, [{ place: 2, verdict: 'reject', text: '7.50', isNew: true }]);
    const numbers = texts(picture).filter((t) => /^\d+$/.test(t));
    expect(new Set(numbers).size).toBe(profile.moduleCount);
    expect(of(picture, 'rect')).toHaveLength(profile.moduleCount + profile.moduleCount - 1);
    for (const rect of of(picture, 'rect')) {
      expect(rect.x).toBeGreaterThanOrEqual(0);
      expect(rect.x + rect.width).toBeLessThanOrEqual(picture.width + 1e-6);
      expect(rect.y + rect.height).toBeLessThanOrEqual(picture.height);
    }
    // of a rejected one the mark is a barred square, not a colour alone
    expect(of(picture, 'path')).toEqual([expect.objectContaining({ fill: 'madder', d: expect.stringContaining('h12v12') as string })]);
    expect(of(picture, 'rect').filter((r) => r.thick === 2.5)).toHaveLength(1);
    expect(texts(picture)).toContain('7.50');
  });
});

describe('drawPairs', () => {
  it('draws what was measured, hollow before and filled after, higher where it is more', () => {
    const picture = drawPairs([{ place: 1, before: 5, after: 6 }, { place: 2, before: null, after: 5.5 }, { place: 3, before: null, after: null }], 'Ah'); // prettier-ignore
    const [, , before, after, alone, ...rest] = of(picture, 'circle');
    expect(before).toMatchObject({ fill: 'shell' });
    expect(after).toMatchObject({ fill: 'channel' });
    expect(after?.y).toBeLessThan(before?.y ?? 0);
    expect(alone?.y).toBeLessThan(before?.y ?? 0);
    expect(rest).toEqual([]);
  });

  it('stands with one value, with none, and with nothing at all', () => {
    for (const pairs of [[], [{ place: 1, before: null, after: null }], [{ place: 1, before: 5, after: null }]])
      expect(writeSvg(drawPairs(pairs, 'Ah'), FONTS)).not.toMatch(/NaN|Infinity/);
  });
});

describe('drawBars', () => {
  it('is as long as its figure, and never vanishes', () => {
    const picture = drawBars([{ name: 'a', first: 100, second: 50 }, { name: 'b', first: 0, second: 25 }], { unit: 'min', first: 'x', second: 'y' }); // prettier-ignore
    const [, , ...bars] = of(picture, 'rect').map((r) => r.width);
    expect(bars[1]).toBeCloseTo((bars[0] ?? 0) / 2, 6);
    expect(bars[3]).toBeCloseTo((bars[0] ?? 0) / 4, 6);
    expect(bars[2]).toBe(1);
    expect(writeSvg(drawBars([], { unit: '', first: '', second: '' }), FONTS)).not.toMatch(/NaN/);
  });
});
