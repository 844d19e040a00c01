/** Who may take a module. Said once: the shelf, the choice of a plan and the opening of a job all ask here. Common practice, no source. */

/** What is known of where a module is. Holders are named by any key that tells jobs apart. */
export interface Whereabouts {
  readonly moduleId: string;
  readonly typeId: string;
  /** Why it is in quarantine; null where it is not. */
  readonly quarantine: string | null;
  readonly reservedBy: string | number | null;
  readonly inJob: string | number | null;
}

export interface Taker {
  readonly job: string | number;
  readonly typeId: string;
}

export const HINDRANCES = ['inPack', 'otherType', 'quarantined', 'reserved'] as const;
export type Hindrance = (typeof HINDRANCES)[number];

/** Why a module cannot be taken from the shelf by a job; null where it can. */
export function findHindrance(module: Whereabouts, { job, typeId }: Taker): Hindrance | null {
  if (module.inJob !== null) return 'inPack';
  if (module.typeId !== typeId) return 'otherType';
  if (module.quarantine !== null) return 'quarantined';
  return module.reservedBy !== null && module.reservedBy !== job ? 'reserved' : null;
}

/**
 * Why a module cannot be taken from the shelf, as a sentence; null where it can.
 * @param holder the number of the job that has reserved it, where one has
 */
export function whyNotTake(module: Whereabouts, taker: Taker, holder: number | null): string | null {
  const { moduleId, quarantine, typeId } = module;
  switch (findHindrance(module, taker)) {
    case null:
      return null;
    case 'inPack':
      return `Module ${moduleId} sits in a pack, not on the shelf.`;
    case 'otherType':
      return `Module ${moduleId} is of another type (${typeId}).`;
    case 'quarantined':
      return `Module ${moduleId} is in quarantine: ${quarantine}`;
    case 'reserved':
      return `Module ${moduleId} was taken by job ${holder ?? module.reservedBy} meanwhile. Compute the match again without it.`;
  }
}

/** Why a module cannot sit in the pack that a job opens with, as a sentence; null where it can. One whose job is closed left with it. */
export function whyNotInPack(module: Whereabouts & { readonly isJobClosed: boolean }, { job, typeId }: Taker): string | null {
  const { moduleId, inJob, reservedBy, isJobClosed } = module;
  if (inJob !== null && inJob !== job && !isJobClosed) return `Module ${moduleId} sits in another job's pack.`;
  if (reservedBy !== null && reservedBy !== job) return `Module ${moduleId} is reserved by another job.`;
  return module.typeId === typeId ? null : `Module ${moduleId} is of another type (${module.typeId}).`;
}
