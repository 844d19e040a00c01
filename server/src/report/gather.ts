/** What a report is made from: the job as it stands with all that lies beside its log. */
import { sayFingerprint } from '@estuarine/contract';
import { DEFAULT_POLICY, type Picture, type Report, type ReportInput } from '@estuarine/core';
import type pg from 'pg';
import QRCode from 'qrcode';
import { findCustomer, findVehicle } from '../customers/store.ts';
import type { JobStates } from '../jobs/job-states.ts';
import { findJobNumber } from '../jobs/store.ts';
import { findChainHash } from '../log/store.ts';
import { readPhoto } from '../photos/store.ts';
import type { References } from '../profiles/references.ts';
import { listModules } from '../stock/store.ts';
import { findTerms } from '../terms/store.ts';

export interface Sources {
  readonly pool: pg.Pool;
  readonly shopId: string;
  readonly states: JobStates;
  readonly references: References;
  /** Of the key that signs now. */
  readonly fingerprint: () => Promise<string | null>;
  readonly isDemo: boolean;
}

/** Null where there is no such job. */
export async function gatherReport(sources: Sources, jobId: string, now: number): Promise<ReportInput | null> {
  const { pool, shopId, states, references, isDemo } = sources;
  const job = await states.look(pool, jobId);
  if (!job) return null;
  const { state, profile } = job;
  const { opened } = state.intake;
  const chosen = state.handOver.terms.at(-1)?.terms ?? null;
  const [policy, vehicle, customer, modules, terms, comebackOf, chainHash, fingerprint] = await Promise.all([
    references.policy(pool, state.policyVersion),
    opened ? findVehicle(pool, shopId, opened.vehicle.id) : null,
    opened?.customer ? findCustomer(pool, shopId, opened.customer.id) : null,
    listModules(pool, shopId),
    chosen ? findTerms(pool, shopId, chosen.id, chosen.version) : null,
    opened?.comebackOf ? findJobNumber(pool, shopId, opened.comebackOf) : null,
    findChainHash(pool, shopId, jobId, state.head),
    sources.fingerprint(),
  ]);
  return {
    ...{
      state,
      profile,
      policy: policy ?? DEFAULT_POLICY,
      vehicle,
      customer,
      terms,
      comebackOf,
      chainHash: chainHash ?? '',
      fingerprint: fingerprint && sayFingerprint(fingerprint),
      fingerprintCode: fingerprint === null ? null : drawCode(fingerprint),
      isDemo,
      now,
    },
    shelf: new Map(modules.map((m) => [m.moduleId, m])),
  };
}

/** A QR code as a picture: one path for all its squares. */
export function drawCode(text: string): Picture {
  const { size, data } = QRCode.create(text, { errorCorrectionLevel: 'M' }).modules;
  const unit = 3;
  const squares = Array.from(data, (isDark, i) =>
    isDark ? `M${(i % size) * unit} ${Math.floor(i / size) * unit}h${unit}v${unit}h-${unit}z` : '',
  );
  return { width: size * unit, height: size * unit, shapes: [{ kind: 'path', d: squares.join(''), fill: 'ink' }] };
}

/** The photographs that a report shows, in copies for print. */
export async function gatherPhotos({ pool, shopId }: Sources, jobId: string, report: Report): Promise<Map<string, Uint8Array>> {
  const photos = new Map<string, Uint8Array>();
  for (const id of report.photoIds) {
    const bytes = await readPhoto(pool, shopId, jobId, id, 'print');
    if (bytes) photos.set(id, bytes);
  }
  return photos;
}
