/** Writes one PDF off the main thread, telling how far it is. */
import type { MessagePort } from 'node:worker_threads';
import type { Report } from '@estuarine/core';
import { writePdf } from './pdf.ts';

export interface PdfTask {
  readonly report: Report;
  readonly photos: readonly (readonly [string, Uint8Array])[];
  readonly now: number;
  readonly progress: MessagePort;
}

export default async function run({ report, photos, now, progress }: PdfTask): Promise<Uint8Array> {
  const bytes = await writePdf({ report, photos: new Map(photos), now, onProgress: (share) => progress.postMessage(share) });
  progress.close();
  if (!bytes) throw new Error('the report was cancelled');
  return bytes;
}
