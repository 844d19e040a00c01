/**
 * The sealed record of a job: a zip that says by itself what it holds. The first member lists every other by name, size and hash, the
 * second signs that list. The owner's name is left out of it: the warranty is of pack and vehicle.
 */
import { createHash } from 'node:crypto';
import { canonicalText, EVENTS_NAME, MANIFEST_NAME, RECORD_FORMAT, SIGNATURE_NAME, type Manifest } from '@estuarine/contract';
import { FOLD_VERSION, jobStateSchema, writeState, type ReportInput } from '@estuarine/core';
import { ZipFile } from 'yazl';
import * as z from 'zod';
import { planCsv, sweepsCsv, torqueCsv } from '../jobs/export.ts';
import type { EventLine } from '../log/store.ts';
import type { SigningKey } from '../seal/keys.ts';

export interface RecordParts {
  readonly jobId: string;
  readonly input: ReportInput;
  readonly events: readonly EventLine[];
  readonly report: Buffer;
  /** Photographs as they were kept, by id. */
  readonly photos: ReadonlyMap<string, Buffer>;
  readonly key: SigningKey;
  readonly by: string;
  /** ISO 8601. */
  readonly at: string;
}

export interface SealedRecord {
  readonly bytes: Buffer;
  readonly manifestSha256: string;
}

/** One member, with its name in the zip. */
interface Member {
  readonly name: string;
  readonly bytes: Buffer;
}

export async function sealRecord(parts: RecordParts): Promise<SealedRecord> {
  const { jobId, input, events, key, by, at } = parts;
  const members = listMembers(parts);
  const last = events.at(-1);
  if (!last) throw new Error(`job ${jobId} has no events`);
  const manifest: Manifest = {
    ...{
      format: RECORD_FORMAT,
      version: 1,
      job: { id: jobId, number: input.state.intake.opened?.number ?? 0 },
      sealedAt: at,
      sealedBy: by,
    },
    key: { fingerprint: key.fingerprint, publicKey: key.publicKey },
    chain: { stream: jobId, head: last.number, hash: last.hash },
    members: members.map(({ name, bytes }) => ({ name, byte: bytes.length, sha256: sha256(bytes) })),
  };
  const text = Buffer.from(canonicalText(manifest));
  const signature = Buffer.from(key.sign(text).toString('hex'));
  const bytes = await zip([{ name: MANIFEST_NAME, bytes: text }, { name: SIGNATURE_NAME, bytes: signature }, ...members]);
  return { bytes, manifestSha256: sha256(text) };
}

function listMembers({ jobId, input, events, report, photos }: RecordParts): Member[] {
  const { state, profile, policy, vehicle, terms } = input;
  const job = {
    ...{ format: 'estuarine-job-record', version: 1, fold: FOLD_VERSION, jobId, profile, policy, vehicle, terms },
    state: JSON.parse(writeState(state)) as unknown,
  };
  const text = (name: string, content: string): Member => ({ name, bytes: Buffer.from(content) });
  return [
    text('READ-ME.txt', README),
    { name: 'report.pdf', bytes: report },
    text('job.json', `${JSON.stringify(job, null, 2)}\n`),
    text('job.schema.json', `${JSON.stringify(jobSchema(), null, 2)}\n`),
    text(EVENTS_NAME, events.map((line) => `${JSON.stringify(line)}\n`).join('')),
    text('sweeps.csv', sweepsCsv(state)),
    text('torque.csv', torqueCsv(state, profile)),
    ...(state.plan.chosen ? [text('plan.csv', planCsv(state, profile, policy))] : []),
    ...[...photos].sort(([a], [b]) => (a < b ? -1 : 1)).map(([id, bytes]) => ({ name: `photographs/${id}.jpg`, bytes })),
  ];
}

const README = `This is the sealed record of one job.

manifest.json     lists every other file by name, size and SHA-256, in order
manifest.ed25519  signs that list with the key of the shop
report.pdf        for reading
job.json          the job as it stands, as job.schema.json describes it under "state"
events.jsonl      every entry: its text, and its hash, which is SHA-256 of the hash before and the text
*.csv             the same for spreadsheets
photographs/      written anew from what was taken, whose hashes stand in the entries

Check it with the shop's checking page, which runs in any browser without a network. Take the page and the fingerprint of the key from
the shop, never from whoever sent you this file.
`;

/** Schema of the state, as text says it: maps are lists of pairs. */
function jobSchema(): unknown {
  return z.toJSONSchema(jobStateSchema, { io: 'input', unrepresentable: 'any' });
}

function sha256(bytes: Buffer): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/**
 * Every member stored as it is and every field of the wrapping the same for all, so that the checking page can tell a changed byte
 * wherever it lies. Photographs and PDF are packed already.
 */
function zip(members: readonly Member[]): Promise<Buffer> {
  const file = new ZipFile();
  // the first moment that a zip can name, by the clock of whoever reads it
  const mtime = new Date(1980, 0, 1);
  for (const { name, bytes } of members) file.addBuffer(bytes, name, { mtime, forceDosTimestamp: true, compress: false });
  file.end();
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    file.outputStream.on('data', (chunk: Buffer) => chunks.push(chunk));
    file.outputStream.on('end', () => resolve(Buffer.concat(chunks)));
    file.outputStream.on('error', reject);
  });
}
