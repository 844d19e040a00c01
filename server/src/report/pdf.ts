/** A report as PDF: A4, tagged, with bookmarks, text that can be searched and copied, readable in black and white. */
import { writeSvg, type Report, type ReportBlock, type TableColumn } from '@estuarine/core';
import PDFDocument from 'pdfkit';
import drawSvg from 'svg-to-pdfkit';
import { TypeCase, type Face } from './type-case.ts';

type Doc = InstanceType<typeof PDFDocument>;
type Element = ReturnType<Doc['struct']>;
type Block<K extends ReportBlock['kind']> = Extract<ReportBlock, { kind: K }>;

export interface PdfWork {
  readonly report: Report;
  /** JPEG by id; one that is missing is said to be. */
  readonly photos: ReadonlyMap<string, Uint8Array>;
  /** Epoch milliseconds; the same report of the same moment is the same file. */
  readonly now: number;
  /** Told the share that is done, 0 to 1. */
  readonly onProgress?: (share: number) => void;
  readonly isCancelled?: () => boolean;
}

const MARGIN = 48;
const INK = '#10242b';
const QUIET = '#57696d';
const LINE = '#9aa5a3';
const SIZE = { 1: 22, 2: 15, 3: 12 } as const;
const BODY = 10;
const SMALL = 8.5;
const FOOT = 28;

/** Gives the bytes; null where it was cancelled. */
export async function writePdf(work: PdfWork): Promise<Buffer | null> {
  const { report, now } = work;
  const doc = new PDFDocument({
    ...{ size: 'A4', margins: { top: MARGIN, left: MARGIN, right: MARGIN, bottom: MARGIN + FOOT }, bufferPages: true },
    ...{ pdfVersion: '1.7', tagged: true, lang: 'en-GB', displayTitle: true, font: '' },
    info: { Title: report.title, Producer: 'Estuarine', Creator: 'Estuarine', CreationDate: new Date(now), ModDate: new Date(now) },
  });
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<void>((resolve) => doc.on('end', () => resolve()));
  const page = new Page(doc, work.photos);
  for (const [i, block] of report.blocks.entries()) {
    if (work.isCancelled?.()) return null;
    page.add(block);
    work.onProgress?.((i + 1) / (report.blocks.length + 1));
    // lets a cancel come through
    if (i % 8 === 7) await new Promise((resolve) => setImmediate(resolve));
  }
  page.end(report.title);
  doc.end();
  await ended;
  work.onProgress?.(1);
  return Buffer.concat(chunks);
}

class Page {
  readonly #doc: Doc;
  readonly #type: TypeCase;
  readonly #photos: ReadonlyMap<string, Uint8Array>;
  readonly #root: Element;
  #chapter: { addItem(title: string): unknown } | null = null;

  constructor(doc: Doc, photos: ReadonlyMap<string, Uint8Array>) {
    this.#doc = doc;
    this.#photos = photos;
    this.#type = new TypeCase(doc);
    this.#root = doc.struct('Document');
    doc.addStructure(this.#root);
    doc.font(this.#type.first('words')).fontSize(BODY).fillColor(INK);
  }

  get #width(): number {
    return this.#doc.page.width - 2 * MARGIN;
  }

  get #floor(): number {
    return this.#doc.page.height - MARGIN - FOOT;
  }

  add(block: ReportBlock): void {
    switch (block.kind) {
      case 'page':
        this.#doc.addPage();
        break;
      case 'heading':
        this.#heading(block);
        break;
      case 'text':
        this.#paragraph(block);
        break;
      case 'facts':
        this.#facts(block);
        break;
      case 'table':
        this.#table(block);
        break;
      case 'picture':
        this.#picture(block);
        break;
      case 'photos':
        this.#pictures(block);
    }
  }

  /** Foots every page and closes the structure. */
  end(title: string): void {
    const doc = this.#doc;
    this.#root.end();
    const { start, count } = doc.bufferedPageRange();
    for (let i = start; i < start + count; i++) {
      doc.switchToPage(i);
      const y = doc.page.height - MARGIN - FOOT + 14;
      // below the margin a line of text would begin another page
      doc.page.margins.bottom = 0;
      doc.markContent('Artifact', { type: 'Pagination' });
      doc.moveTo(MARGIN, y - 4).lineTo(doc.page.width - MARGIN, y - 4).lineWidth(0.5).strokeColor(LINE).stroke(); // prettier-ignore
      this.#set('words', title, SMALL, QUIET, MARGIN, y, this.#width - 90, 'left');
      this.#set('figures', `${i + 1} of ${count}`, SMALL, QUIET, doc.page.width - MARGIN - 80, y, 80, 'right');
      doc.endMarkedContent();
    }
  }

  #room(height: number): void {
    if (this.#doc.y + height > this.#floor) this.#doc.addPage();
  }

  /** Sets text at a point, in as many fonts as it takes. */
  #set(face: Face, text: string, size: number, colour: string, x: number, y: number, width: number, align: 'left' | 'right'): void {
    const runs = this.#type.runs(face, text);
    const doc = this.#doc.fontSize(size).fillColor(colour);
    // several fonts on one line cannot be set flush right: they begin where they end up
    const offset = align === 'right' && runs.length > 1 ? Math.max(0, width - this.#widthOf(runs, size)) : 0;
    for (const [i, run] of runs.entries()) {
      const options = {
        width: width - offset,
        align: runs.length > 1 ? ('left' as const) : align,
        lineGap: 1.5,
        continued: i < runs.length - 1,
      };
      doc.font(run.font);
      if (i === 0) doc.text(run.text, x + offset, y, options);
      else doc.text(run.text, options);
    }
  }

  #widthOf(runs: readonly { font: string; text: string }[], size: number): number {
    return runs.reduce((sum, run) => sum + this.#doc.font(run.font).fontSize(size).widthOfString(run.text), 0);
  }

  #heightOf(face: Face, text: string, size: number, width: number): number {
    // the widest font speaks for all: a line too much is better than one cut off
    return this.#doc
      .font(this.#type.first(face))
      .fontSize(size)
      .heightOfString(text === '' ? ' ' : text, { width: width * 0.98, lineGap: 1.5 });
  }

  #tagged(kind: string, draw: () => void, options: Record<string, unknown> = {}, parent = this.#root): void {
    parent.add(this.#doc.struct(kind, options, draw));
  }

  #heading({ level, text }: Block<'heading'>): void {
    const doc = this.#doc;
    const size = SIZE[level];
    if (doc.y > MARGIN + 4) doc.y += level === 3 ? 8 : 14;
    // never alone at the foot of a page
    this.#room(size + 70);
    if (level === 1) this.#chapter = doc.outline.addItem(text);
    else if (level === 2) (this.#chapter ?? doc.outline).addItem(text);
    this.#tagged(`H${level}`, () => this.#set('bold', text, size, INK, MARGIN, doc.y, this.#width, 'left'), { title: text });
    doc.y += level === 3 ? 2 : 4;
  }

  #paragraph({ text, tone = 'plain' }: Block<'text'>): void {
    const doc = this.#doc;
    const indent = tone === 'caution' ? 12 : 0;
    const size = tone === 'quiet' ? SMALL : BODY;
    const height = this.#heightOf('words', text, size, this.#width - indent);
    this.#room(Math.min(height, 120));
    const top = doc.y;
    if (indent > 0 && top + height <= this.#floor) {
      doc.markContent('Artifact');
      doc.rect(MARGIN, top, 4, height).fillColor(INK).fill();
      doc.endMarkedContent();
    }
    this.#tagged('P', () =>
      this.#set('words', text, size, tone === 'quiet' ? QUIET : INK, MARGIN + indent, top, this.#width - indent, 'left'),
    );
    doc.y += 5;
  }

  #facts({ rows }: Block<'facts'>): void {
    const columns: TableColumn[] = [
      { name: '', share: 1.4 },
      { name: '', share: 4 },
    ];
    this.#rows(columns, rows.map((r) => [r.name, r.value]), true); // prettier-ignore
  }

  #table({ columns, rows }: Block<'table'>): void {
    this.#rows(columns, rows, false);
  }

  #rows(columns: readonly TableColumn[], rows: readonly (readonly string[])[], hasRowHeads: boolean): void {
    const doc = this.#doc;
    const total = columns.reduce((sum, c) => sum + c.share, 0);
    const widths = columns.map((c) => (c.share / total) * this.#width);
    const table = doc.struct('Table');
    this.#root.add(table);
    const size = hasRowHeads ? BODY : SMALL + 0.5;
    const put = (cells: readonly string[], isHead: boolean): void => {
      const heights = cells.map((cell, i) =>
        this.#heightOf(columns[i]?.isFigure && !isHead ? 'figures' : 'words', cell, size, (widths[i] ?? 40) - 12),
      );
      const height = Math.min(Math.max(...heights, size) + 5, this.#floor - MARGIN);
      if (doc.y + height > this.#floor) {
        doc.addPage();
        if (!isHead && !hasRowHeads) put(columns.map((c) => c.name), true); // prettier-ignore
      }
      const y = doc.y;
      const row = doc.struct('TR');
      table.add(row);
      let x = MARGIN;
      for (const [i, cell] of cells.entries()) {
        const width = widths[i] ?? 40;
        const isHeadCell = isHead || (hasRowHeads && i === 0);
        const face: Face = isHeadCell ? 'bold' : columns[i]?.isFigure ? 'figures' : 'words';
        const at = x;
        this.#tagged(isHeadCell ? 'TH' : 'TD', () => this.#set(face, cell, size, INK, at + 6, y + 2, width - 12, columns[i]?.isFigure ? 'right' : 'left'), {}, row); // prettier-ignore
        x += width;
      }
      row.end();
      doc.markContent('Artifact');
      doc.moveTo(MARGIN, y + height).lineTo(MARGIN + this.#width, y + height).lineWidth(isHead ? 1 : 0.4).strokeColor(isHead ? INK : LINE).stroke(); // prettier-ignore
      doc.endMarkedContent();
      doc.y = y + height;
    };
    if (!hasRowHeads) {
      this.#room(60);
      put(columns.map((c) => c.name), true); // prettier-ignore
    }
    for (const cells of rows) put(cells, false);
    table.end();
    doc.x = MARGIN;
    doc.y += 8;
  }

  #picture({ picture, says }: Block<'picture'>): void {
    const doc = this.#doc;
    const scale = Math.min(1, this.#width / picture.width, (this.#floor - MARGIN - 40) / picture.height);
    const [width, height] = [picture.width * scale, picture.height * scale];
    this.#room(height + 26);
    const top = doc.y;
    const svg = writeSvg(picture, { words: this.#type.first('words'), figures: this.#type.first('figures') });
    this.#tagged('Figure', () => drawSvg(doc, svg, MARGIN, top, { width, height, assumePt: true, fontCallback: (family) => family }), { alt: says }); // prettier-ignore
    doc.x = MARGIN;
    doc.y = top + height + 4;
    this.#tagged('Caption', () => this.#set('words', says, SMALL, QUIET, MARGIN, doc.y, this.#width, 'left'));
    doc.y += 8;
  }

  #pictures({ photos }: Block<'photos'>): void {
    const doc = this.#doc;
    const width = (this.#width - 16) / 2;
    const height = width * 0.75;
    for (let i = 0; i < photos.length; i += 2) {
      this.#room(height + 34);
      const top = doc.y;
      for (const [column, photo] of photos.slice(i, i + 2).entries()) {
        const x = MARGIN + column * (width + 16);
        const bytes = this.#photos.get(photo.photoId);
        if (bytes) this.#tagged('Figure', () => void doc.image(Buffer.from(bytes), x, top, { fit: [width, height], align: 'center', valign: 'center' }), { alt: photo.caption }); // prettier-ignore
        const said = bytes ? photo.caption : `${photo.caption}. The picture never came from its device.`;
        this.#tagged('Caption', () => this.#set('words', said, SMALL, QUIET, x, top + height + 2, width, 'left'));
      }
      doc.x = MARGIN;
      doc.y = top + height + 30;
    }
  }
}
