/**
 * What is handed over of a job, as data: a page for the customer, the rest for the file. Blocks in the order of reading; whoever draws
 * them decides on type and paper. Nothing here is of this moment but what is passed in.
 */
import { JOB_KIND_NAMES } from '../job/chapters/intake/kinds.ts';
import type { JobState } from '../job/frame/state.ts';
import { drawExposureLine } from '../job/line/line-picture.ts';
import { traceExposure } from '../job/line/trace.ts';
import { stagesOf } from '../job/frame/stages.ts';
import { writeCoreDesk, writeParts, writePassed, writeTerms, writeTorque } from './accounts.ts';
import { writeFor, type Report, type ReportBlock, type ReportInput, type Words } from './blocks.ts';
import { writeCustomerPage } from './customer-page.ts';
import { writeCooling, writeFindings, writeDead, writeScans } from './found.ts';
import { writeModules } from './modules.ts';

export function composeReport(input: ReportInput): Report {
  const { state, profile, vehicle } = input;
  const words = writeFor(input);
  const number = state.intake.opened?.number ?? 0;
  const blocks: ReportBlock[] = [
    ...writeCustomerPage(input, words),
    { kind: 'page' },
    { kind: 'heading', level: 1, text: `Job ${number}: the record` },
    ...writeHead(input, words),
    ...writeFindings(input, words),
    ...writeDead(input, words),
    ...writeModules(input, words),
    ...writeTorque(input, words),
    ...writeCooling(input),
    ...writeScans(input, words),
    ...writeParts(input),
    ...writePassed(input, words),
    ...writeCoreDesk(input, words),
    ...writeTerms(input),
    ...writePhotos(input, words),
    ...writeSeal(input, words),
  ];
  return { title: `Job ${number}: ${vehicle?.name ?? profile.name}`, number, blocks, photoIds: photosOf(state).map((p) => p.photoId) };
}

function photosOf({ finding, handOver }: JobState): JobState['finding']['photos'] {
  const chosen = handOver.prepared.at(-1)?.photoIds ?? [];
  return chosen.flatMap((id) => finding.photos.filter((p) => p.photoId === id && p.erased === null));
}

function writeHead({ state, profile, policy, vehicle, comebackOf }: ReportInput, { when }: Words): ReportBlock[] {
  const { opened, closed, reopened } = state.intake;
  const stages = stagesOf(state, profile);
  const minutes = Object.values(state.minutes).reduce((sum, m) => sum + m, 0);
  return [
    {
      kind: 'facts',
      rows: [
        { name: 'Kind of job', value: opened ? JOB_KIND_NAMES[opened.kind] : 'never opened' },
        { name: 'Vehicle', value: vehicle ? `${vehicle.name} ${vehicle.plate}`.trim() : 'erased' },
        { name: 'Odometer', value: vehicle?.odometerKilometre == null ? 'not said' : `${vehicle.odometerKilometre} km` },
        { name: 'Pack', value: `${profile.name}, version ${profile.version} of its profile, ${profile.moduleCount} modules` },
        { name: 'Opened', value: opened ? when(opened.at) : '' },
        { name: 'Closed', value: closed ? `${when(closed.at)}, ${closed.outcome === 'finished' ? 'finished' : `broken off: ${closed.note}`}` : 'still open' }, // prettier-ignore
        ...reopened.map((r) => ({ name: 'Opened again', value: `${when(r.at)}: ${r.reason}` })),
        ...(comebackOf === null ? [] : [{ name: 'Comes back from', value: `job ${comebackOf}` }]),
        { name: 'Worked', value: `${Math.round(minutes)} minutes, breaks left out` },
      ],
    },
    ...(closed?.unmet ?? []).map((text): ReportBlock => ({ kind: 'text', text: `Left undone: ${text}`, tone: 'caution' })),
    {
      kind: 'picture',
      picture: drawExposureLine(traceExposure(state, profile), stages, state.stage, policy.wording),
      says: 'The highest voltage that could be reached, over the stages of the job. Dashed: behind the covers.',
    },
  ];
}

function writePhotos({ state }: ReportInput, { when }: Words): ReportBlock[] {
  const photos = photosOf(state);
  if (photos.length === 0) return [];
  return [
    { kind: 'heading', level: 2, text: 'Photographs' },
    { kind: 'photos', photos: photos.map((p) => ({ photoId: p.photoId, caption: `${p.caption || 'No words'} (${when(p.at)})` })) },
  ];
}

function writeSeal({ state, chainHash, fingerprint, fingerprintCode, now }: ReportInput, { when }: Words): ReportBlock[] {
  return [
    { kind: 'heading', level: 2, text: 'Seal' },
    {
      kind: 'text',
      text: 'Every entry of this job is one link of a chain of hashes: none can be changed afterwards without all later ones changing too. The sealed archive of the job holds the whole chain, signed with the key of the shop.', // prettier-ignore
    },
    {
      kind: 'facts',
      rows: [
        { name: 'Entries', value: `${state.head}` },
        { name: 'Hash of the last', value: chainHash },
        { name: 'Key of the shop', value: fingerprint ?? 'none yet' },
        { name: 'Written', value: when(new Date(now).toISOString()) },
      ],
    },
    ...(fingerprintCode ? [{ kind: 'picture', picture: fingerprintCode, says: 'The fingerprint of the key, for a phone.' } as const] : []),
  ];
}
