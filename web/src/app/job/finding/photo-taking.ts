import { inject } from '@angular/core';
import type { ActBody } from '@estuarine/core';
import { v7 as uuid } from 'uuid';
import { JobLog } from '../../transport/job-log.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';
import { hashBlob, shrinkPhoto } from './shrink.ts';

/** What a photograph shows, beside its picture. */
export type Shown = Pick<ActBody<'photo.taken'>, 'stage' | 'caption' | 'place' | 'pairOf'>;

/** Gives what takes a photograph of the job: made smaller, onto the device, told of. Its answer says why one was not taken; null: taken. */
export function injectPhotoTaking(): (file: File, shown: Shown) => Promise<string | null> {
  const [log, desk] = [inject(JobLog), inject(PhotoDesk)];
  return async (file, shown) => {
    const shrunk = await shrinkPhoto(file);
    if (shrunk.kind === 'refused') return `${shrunk.message} It was not taken.`;
    const { blob, width, height } = shrunk.value;
    const photoId = uuid();
    if (!(await desk.put({ photoId, jobId: log.jobId(), picture: blob })))
      return 'This device could not store it: its disk may be full. It was not taken.';
    const body = { ...shown, photoId, sha256: await hashBlob(blob), byte: blob.size, width, height };
    return (await log.act({ type: 'photo.taken', body })) === null ? 'It could not be recorded on this device.' : null;
  };
}
