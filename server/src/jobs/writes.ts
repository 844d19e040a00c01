/** What kept events mean for the tables that jobs share: papers, modules, photographs. */
import { ACT_TRAITS, apply, type JobEvent, type JobWrite } from '@estuarine/core';
import { savePaper, type SealedPaper } from '../customers/store.ts';
import type { Queryable } from '../database/database.ts';
import type { ChainedEvent } from '../log/chain.ts';
import { erasePhoto } from '../photos/store.ts';
import { eraseRecordsBefore } from '../seal/records.ts';
import { beginQuarantine, endQuarantine, freeModules, reserveModules, savePackModules } from '../stock/store.ts';
import { toJobEvent, type FoldedJob } from './job-states.ts';

/** Papers that came with an act, sealed; when tables are made anew they stand already. */
export interface SealedPapers {
  readonly vehicle: SealedPaper | null;
  readonly customer: SealedPaper | null;
}
export const NO_PAPERS: SealedPapers = { vehicle: null, customer: null };

/** Where an event is kept. */
export interface Scene {
  readonly shopId: string;
  readonly jobId: string;
  readonly job: FoldedJob;
  readonly papers: SealedPapers;
}

/** Brings one of the shared tables up to an event, which the state has in it already; `dropped` is as it was before. */
type Writer = (db: Queryable, scene: Scene, event: JobEvent, dropped: FoldedJob['state']['rebuild']['dropped']) => Promise<void>;

const WRITERS: Record<JobWrite, Writer> = {
  papers: async (db, { shopId, papers }) => {
    for (const paper of ['vehicle', 'customer'] as const) {
      const sealed = papers[paper];
      if (sealed) await savePaper(db, shopId, paper, sealed.row.id, sealed.salt, sealed.body);
    }
  },
  packModules: async (db, { shopId, jobId, job }, event) => {
    if (event.type === 'job.opened' && event.body.moduleIds.length > 0)
      await savePackModules(db, shopId, jobId, job.profile.moduleType.id, event.body.moduleIds);
  },
  reservation: async (db, { shopId, jobId }, event) => {
    if (event.type === 'plan.chosen' && event.body.fromShelf.length > 0) await reserveModules(db, shopId, jobId, event.body.fromShelf);
    if (event.type === 'plan.withdrawn') await freeModules(db, shopId, jobId);
  },
  // a module that was dropped is set aside; that is over once no word of it is left, unless somebody gave another reason since
  quarantine: async (db, { shopId, job: { state } }, event, dropped) => {
    const reason = `Dropped at job ${state.intake.opened?.number ?? 0}.`;
    if (event.type === 'module.dropped') await beginQuarantine(db, shopId, event.body.moduleId, reason);
    if (event.type !== 'act.withdrawn') return;
    const taken = dropped.find((d) => d.commandId === event.body.commandId);
    if (taken && !state.rebuild.dropped.some((d) => d.moduleId === taken.moduleId)) await endQuarantine(db, shopId, taken.moduleId, reason);
  },
  photograph: async (db, { shopId, jobId, job }, event) => {
    if (event.type !== 'photo.erased') return;
    const photo = job.state.finding.photos.find((p) => p.photoId === event.body.photoId);
    if (!photo) return;
    await erasePhoto(db, shopId, { jobId, photoId: photo.photoId, sha256: photo.sha256, by: photo.by, at: new Date(photo.at) });
    await eraseRecordsBefore(db, shopId, jobId, event.number);
  },
};

/** Applies one kept event to the state and to the tables that it writes to; also run when those are made anew. */
export async function projectJobEvent(db: Queryable, scene: Scene, stored: ChainedEvent): Promise<void> {
  const event = toJobEvent(stored);
  const { state, profile } = scene.job;
  const { dropped } = state.rebuild;
  apply(state, profile, event);
  for (const table of ACT_TRAITS[event.type].writes) await WRITERS[table](db, scene, event, dropped);
}
