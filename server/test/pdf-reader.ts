/** A PDF as a reader program takes it apart. */

/** A stretch of text on a page, in points from its upper left corner. */
export interface PlacedText {
  readonly text: string;
  readonly left: number;
  readonly right: number;
  readonly baseline: number;
  readonly size: number;
}

export interface ReadPdf {
  readonly pages: readonly string[];
  readonly placed: readonly (readonly PlacedText[])[];
  readonly text: string;
  /** Chapters, each before its own. */
  readonly bookmarks: readonly string[];
  readonly outline: readonly { readonly title: string; readonly items: readonly { readonly title: string }[] }[];
  /** Kinds of the elements by which a page is read aloud, in order, figures with what they show. */
  readonly structure: readonly (readonly string[])[];
  readonly isTagged: boolean;
  readonly language: string;
}

interface Node {
  readonly role?: string;
  readonly alt?: string;
  readonly children?: readonly Node[];
}

export async function readPdf(pdf: Buffer): Promise<ReadPdf> {
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const document = await getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise;
  const pages: string[] = [];
  const placed: PlacedText[][] = [];
  const structure: string[][] = [];
  for (let i = 1; i <= document.numPages; i++) {
    const page = await document.getPage(i);
    const { items } = await page.getTextContent();
    const height = page.getViewport({ scale: 1 }).height;
    const texts = items.flatMap((item) => ('str' in item ? [item] : []));
    pages.push(texts.map((item) => item.str + (item.hasEOL ? ' ' : '')).join(''));
    placed.push(
      texts.flatMap(({ str: text, transform, width }) => {
        const [, , , size, left, up] = transform as number[];
        if (text.trim() === '' || size === undefined || left === undefined || up === undefined) return [];
        return [{ text, left, right: left + width, baseline: height - up, size }];
      }),
    );
    structure.push(rolesOf(((await page.getStructTree()) ?? {}) as Node));
  }
  const outline = ((await document.getOutline()) ?? []) as ReadPdf['outline'];
  const { info } = (await document.getMetadata()) as { info: { Language?: string } };
  return {
    ...{ pages, placed, structure, outline },
    text: pages.join(' ').replace(/\s+/g, ' '),
    bookmarks: outline.flatMap((o) => [o.title, ...o.items.map((i) => i.title)]),
    isTagged: (await document.getMarkInfo())?.Marked === true,
    language: info.Language ?? '',
  };
}

function rolesOf({ role, alt, children = [] }: Node): string[] {
  const own = role === undefined || role === 'Root' ? [] : [alt === undefined ? role : `${role}: ${alt}`];
  return [...own, ...children.flatMap(rolesOf)];
}
