/**
 * The type of the report: fonts that ship with it, by what they can set. Atkinson Hyperlegible sets Latin; Noto Sans what that lacks
 * (Greek, Cyrillic, Vietnamese and signs of units). What none of them has (Arabic, Hebrew, Indic and East Asian scripts, emoji) is set as
 * a box: the archive holds it as it was written.
 */
import fs from 'node:fs';
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';

const require = createRequire(import.meta.url);

/** What a text is for. */
export type Face = 'words' | 'bold' | 'figures';

const CASES: Record<Face, readonly string[]> = {
  words: [hyperlegible('next-latin-400'), hyperlegible('next-latin-ext-400'), ...noto(400)],
  bold: [hyperlegible('next-latin-700'), hyperlegible('next-latin-ext-700'), ...noto(700)],
  figures: [hyperlegible('mono-latin-400'), hyperlegible('mono-latin-ext-400'), ...noto(400)],
};

function hyperlegible(name: string): string {
  const [family = ''] = name.split('-');
  return `@fontsource/atkinson-hyperlegible-${family}/files/atkinson-hyperlegible-${name}-normal.woff`;
}

function noto(weight: number): string[] {
  return ['latin', 'latin-ext', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext', 'vietnamese'].map(
    (script) => `@fontsource/noto-sans/files/noto-sans-${script}-${weight}-normal.woff`,
  );
}

/** A stretch of text in one font. */
export interface Run {
  readonly font: string;
  readonly text: string;
}

interface Glyphs {
  hasGlyphForCodePoint(point: number): boolean;
}

export class TypeCase {
  readonly #fonts = new Map<Face, { name: string; glyphs: Glyphs }[]>();

  constructor(document: InstanceType<typeof PDFDocument>) {
    for (const face of Object.keys(CASES) as Face[])
      this.#fonts.set(
        face,
        CASES[face].map((file, i) => {
          const name = `${face}${i}`;
          document.registerFont(name, fs.readFileSync(require.resolve(file)));
          document.font(name);
          const { font } = (document as unknown as { _font: { font: Glyphs } })._font;
          return { name, glyphs: font };
        }),
      );
  }

  /** The font of a face that sets plain Latin. */
  first(face: Face): string {
    return `${face}0`;
  }

  /** The text in stretches, each in the first font that has its letters. */
  runs(face: Face, text: string): Run[] {
    const fonts = this.#fonts.get(face) ?? [];
    const runs: { font: string; text: string }[] = [];
    for (const letter of text) {
      const point = letter.codePointAt(0) ?? 0;
      const fits = point <= 32 ? null : fonts.find((f) => f.glyphs.hasGlyphForCodePoint(point));
      const last = runs.at(-1);
      // a space is set in whatever font stands
      const font = point <= 32 ? (last?.font ?? this.first(face)) : (fits?.name ?? this.first(face));
      const set = point <= 32 || fits ? letter : '¤';
      if (last?.font === font) last.text += set;
      else runs.push({ font, text: set });
    }
    return runs.length > 0 ? runs : [{ font: this.first(face), text: '' }];
  }
}
