/** A report of 30 pages with 100 photographs: seconds against its budget, and beside pdfkit alone laying the same pictures on pages. */
import PDFDocument from 'pdfkit';
import sharp from 'sharp';
import type { Report } from '@estuarine/core';
import { writePdf } from '../src/report/pdf.ts';

const BUDGET_SECOND = 10;
const PHOTOS = 100;
const TABLES = 12;

const noise = await sharp({
  create: { width: 1200, height: 900, channels: 3, background: '#888', noise: { type: 'gaussian', mean: 128, sigma: 30 } },
})
  .jpeg({ quality: 78 })
  .toBuffer();
const photos = new Map(Array.from({ length: PHOTOS }, (_, i) => [`p${i}`, noise]));
const columns = [{ name: 'Place', isFigure: true, share: 1 }, { name: 'Module', share: 3 }, { name: 'V', isFigure: true, share: 2 }, { name: 'Why', share: 5 }]; // prettier-ignore
const rows = Array.from({ length: 40 }, (_, i) => [
  `${i + 1}`,
  `S${i}`,
  (7.5 + i / 1000).toFixed(3),
  'Under load it dipped more than the others did.',
]);
const report: Report = {
  ...{ title: 'A long report', number: 1, photoIds: [...photos.keys()] },
  blocks: [
    ...Array.from({ length: TABLES }, (_, i) => [
      { kind: 'heading' as const, level: 2 as const, text: `Table ${i + 1}` },
      { kind: 'table' as const, columns, rows },
    ]).flat(),
    { kind: 'photos', photos: [...photos.keys()].map((photoId) => ({ photoId, caption: `Photograph ${photoId}` })) },
  ],
};

function plain(): Promise<void> {
  return new Promise((resolve) => {
    const doc = new PDFDocument({ size: 'A4' });
    doc.on('data', () => undefined);
    doc.on('end', () => resolve());
    for (const [i, bytes] of [...photos.values()].entries()) {
      if (i > 0) doc.addPage();
      doc.image(bytes, 48, 48, { fit: [500, 700] });
    }
    doc.end();
  });
}

async function secondsOf(work: () => Promise<unknown>): Promise<number> {
  const before = performance.now();
  await work();
  return (performance.now() - before) / 1000;
}

await plain();
const yardstick = await secondsOf(plain);
const second = await secondsOf(() => writePdf({ report, photos, now: 0 }));
process.stdout.write(
  `report of ${PHOTOS} photographs and ${TABLES * rows.length} rows: ${second.toFixed(2)} s (${BUDGET_SECOND}); over pdfkit with the pictures alone ${(second / yardstick).toFixed(1)}\n`,
);
