import { readFileSync } from 'node:fs';
import path from 'node:path';

/** Relative luminance and contrast by WCAG 2.2, success criteria 1.4.3 and 1.4.11. */
function luminance(hex: string): number {
  const channel = (at: number): number => {
    const c = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  };
  return 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5);
}
function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const text = readFileSync(path.resolve(process.cwd(), 'web/src/styles/tokens.less'), 'utf8');
const [, day = '', night = ''] = /:root \{([\s\S]*?)\n\}[\s\S]*?\[data-theme='night'\] \{([\s\S]*?)\n\}/.exec(text) ?? [];
const tokensOf = (block: string): Record<string, string> =>
  Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((m) => [m[1] ?? '', m[2] ?? '']));

const TEXTS = ['ink', 'fog', 'channel', 'reed', 'sedge', 'madder', 'live-ink'];
const GROUNDS = ['silt', 'shell', 'paper'];
const SHAPES = ['edge', 'tide', 'post'];

describe.each([
  ['day', tokensOf(day)],
  ['night', tokensOf(night)],
])('the tokens of the %s', (_name, tokens) => {
  it.each(TEXTS.flatMap((t) => GROUNDS.map((g) => [t, g] as const)))('%s reads on %s at 4.5 to 1', (a, b) => {
    expect(contrast(tokens[a] ?? '', tokens[b] ?? '')).toBeGreaterThanOrEqual(4.5);
  });
  it.each(SHAPES.flatMap((s) => ['silt', 'shell'].map((g) => [s, g] as const)))('%s shows on %s at 3 to 1', (a, b) => {
    expect(contrast(tokens[a] ?? '', tokens[b] ?? '')).toBeGreaterThanOrEqual(3);
  });
  it('writes on buttons and on the deep ground', () => {
    expect(contrast(tokens['on-channel'] ?? '', tokens.channel ?? '')).toBeGreaterThanOrEqual(4.5);
    expect(contrast(tokens['on-deep'] ?? '', tokens.deep ?? '')).toBeGreaterThanOrEqual(4.5);
    expect(contrast(tokens.ink ?? '', tokens['madder-wash'] ?? '')).toBeGreaterThanOrEqual(4.5);
  });
});
