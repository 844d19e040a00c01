/** Which jobs of the yard are shown. */
import type { JobSummary } from '@estuarine/contract';
import type { JobKind } from '@estuarine/core';

export interface JobFilter {
  /** Every word must stand somewhere in number, vehicle, plate, customer or profile. */
  readonly text: string;
  readonly standing: 'open' | 'closed' | 'all';
  readonly kind: JobKind | 'all';
}

export function filterJobs(jobs: readonly JobSummary[], { text, standing, kind }: JobFilter): JobSummary[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return jobs.filter((job) => {
    if (standing !== 'all' && (job.closed !== null) !== (standing === 'closed')) return false;
    if (kind !== 'all' && job.kind !== kind) return false;
    const told = `job ${job.number} ${job.vehicleName} ${job.plate} ${job.customerName} ${job.profileName}`.toLowerCase();
    return words.every((word) => told.includes(word));
  });
}
