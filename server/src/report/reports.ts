/**
 * Reports being written and lately written. One is known by the job's last event and the shop's: asked for twice it is written once, and
 * none outlives an erasure. Nothing here is more than a cache: another process writes it again.
 */
import type { ReportStanding } from '@estuarine/contract';
import { composeReport } from '@estuarine/core';
import { SHOP_STREAM } from '@estuarine/contract';
import { isAnyWritten, type Paper } from '../customers/store.ts';
import { findHead } from '../log/store.ts';
import { isAnyPhotoErased } from '../photos/store.ts';
import { HttpProblem } from '../problem.ts';
import { gatherPhotos, gatherReport, type Sources } from './gather.ts';
import type { Printer } from './printer.ts';

const MOST_KEPT = 8;
/** Conditions and dates are of the day: an older one is written anew. */
const FRESH_MILLISECOND = 10 * 60_000;

const NOTHING = { papers: [], photoIds: [] };

interface Written {
  readonly reportId: string;
  readonly at: number;
  readonly stop: AbortController;
  share: number;
  standing: ReportStanding['standing'];
  bytes: Buffer | null;
  /** What it shows that can be erased: ids of rows and of photographs. */
  shown: { readonly papers: readonly (readonly [Paper, string])[]; readonly photoIds: readonly string[] };
}

export interface ReportsOptions extends Sources {
  readonly printer: Printer;
  readonly clock: () => Date;
}

export class Reports {
  readonly #options: ReportsOptions;
  readonly #written = new Map<string, Written>();

  constructor(options: ReportsOptions) {
    this.#options = options;
  }

  /** Begins a report, or gives the one that is under way or fresh. */
  async begin(jobId: string): Promise<ReportStanding> {
    const now = this.#options.clock().getTime();
    const reportId = await this.#idOf(jobId);
    const known = this.#written.get(key(jobId, reportId));
    const isUsable = known?.standing === 'running' || (known?.standing === 'ready' && now - known.at < FRESH_MILLISECOND);
    if (known && isUsable) return standingOf(known);
    const begun: Written = { reportId, at: now, stop: new AbortController(), share: 0, standing: 'running', bytes: null, shown: NOTHING };
    this.#keep(key(jobId, reportId), begun);
    void this.#write(jobId, begun);
    return standingOf(begun);
  }

  look(jobId: string, reportId: string): ReportStanding {
    return standingOf(this.#find(jobId, reportId));
  }

  cancel(jobId: string, reportId: string): ReportStanding {
    const found = this.#find(jobId, reportId);
    if (found.standing === 'running') {
      found.standing = 'cancelled';
      found.stop.abort();
    }
    return standingOf(found);
  }

  async read(jobId: string, reportId: string): Promise<Buffer> {
    const { bytes, standing, shown } = this.#find(jobId, reportId);
    if (!bytes) throw new HttpProblem(409, 'notReady', `The report is ${standing}. Ask for it again once it is ready.`);
    if (await this.#isErased(jobId, shown)) {
      this.#written.delete(key(jobId, reportId));
      throw new HttpProblem(404, 'unknownReport', 'Something that this report shows was erased since. Ask for it anew.');
    }
    return bytes;
  }

  async #isErased(jobId: string, { papers, photoIds }: Written['shown']): Promise<boolean> {
    const { pool, shopId } = this.#options;
    for (const [paper, id] of papers) if (!(await isAnyWritten(pool, shopId, paper, [id]))) return true;
    return isAnyPhotoErased(pool, shopId, jobId, photoIds);
  }

  async #idOf(jobId: string): Promise<string> {
    const { pool, shopId } = this.#options;
    const [job, shop] = await Promise.all([findHead(pool, shopId, jobId), findHead(pool, shopId, SHOP_STREAM)]);
    if (job === null || job === 0 || jobId === SHOP_STREAM) throw new HttpProblem(404, 'unknownJob', 'There is no such job here.');
    return `${job}.${shop ?? 0}`;
  }

  #find(jobId: string, reportId: string): Written {
    const found = this.#written.get(key(jobId, reportId));
    if (!found) throw new HttpProblem(404, 'unknownReport', 'This report is not at hand any more. Ask for it anew.');
    return found;
  }

  #keep(name: string, written: Written): void {
    this.#written.delete(name);
    this.#written.set(name, written);
    for (const [old, { standing }] of this.#written) {
      if (this.#written.size <= MOST_KEPT) break;
      if (standing !== 'running') this.#written.delete(old);
    }
  }

  async #write(jobId: string, written: Written): Promise<void> {
    try {
      const input = await gatherReport(this.#options, jobId, written.at);
      if (!input) throw new Error(`job ${jobId} is gone`);
      const report = composeReport(input);
      const photos = await gatherPhotos(this.#options, jobId, report);
      const bytes = await this.#options.printer.print(report, photos, {
        now: written.at,
        onProgress: (share) => (written.share = share),
        signal: written.stop.signal,
      });
      if (written.stop.signal.aborted) return;
      const { opened } = input.state.intake;
      const papers: Written['shown']['papers'] = [
        ...(opened && input.vehicle ? [['vehicle', opened.vehicle.id] as const] : []),
        ...(opened?.customer && input.customer ? [['customer', opened.customer.id] as const] : []),
      ];
      Object.assign(written, {
        bytes,
        share: 1,
        standing: 'ready',
        shown: { papers, photoIds: [...photos.keys()] },
      } satisfies Partial<Written>);
    } catch (error) {
      if (written.stop.signal.aborted) return;
      written.standing = 'failed';
      process.stderr.write(`report of ${jobId}: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
    }
  }
}

function key(jobId: string, reportId: string): string {
  return `${jobId} ${reportId}`;
}

function standingOf({ reportId, standing, share, bytes }: Written): ReportStanding {
  return { reportId, standing, share, byte: bytes?.length ?? null };
}
