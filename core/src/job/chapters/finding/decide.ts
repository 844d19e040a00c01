/** What becomes of findings and photographs: what was seen is kept where it names what is there. */
import type { Profile } from '../../../pack/profile.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { Chapter } from '../chapter.ts';
import type { FindingAct, Pin } from './acts.ts';
import type { FindingState } from './state.ts';

export const decideFinding = {
  'finding.noted': (slice, act, { profile }) => refusePin(slice, act.body.pin, profile),
  'finding.settled': (slice, act) =>
    slice.findings.some((f) => f.findingId === act.body.findingId)
      ? null
      : refuse('gone', 'That finding is not on this job; it may have been taken back.', ['body', 'findingId']),
  'photo.taken': (slice, act) => {
    const { photoId, pairOf } = act.body;
    if (hasPhoto(slice, photoId)) return refuse('taken', 'A photograph of this id is on the job already.', ['body', 'photoId']);
    return pairOf === null || hasPhoto(slice, pairOf) ? null : noPhoto('pairOf');
  },
  'photo.erased': (slice, act, { role, by }) => {
    const photo = slice.photos.find((p) => p.photoId === act.body.photoId);
    if (!photo) return noPhoto('photoId');
    return role === 'lead' || photo.by === by ? null : refuse('notPermitted', 'The lead, or who took it, erases a photograph.');
  },
} satisfies Chapter<FindingState, FindingAct>['decide'];

function refusePin(slice: FindingState, pin: Pin, profile: Profile): Refusal | null {
  const none = (what: string): Refusal => refuse('unknownName', `There is no ${what}.`, ['body', 'pin']);
  switch (pin.on) {
    case 'photo':
      return hasPhoto(slice, pin.photoId) ? null : noPhoto('pin');
    case 'zone':
      return profile.zones.some((z) => z.id === pin.zone) ? null : none(`zone "${pin.zone}"`);
    case 'layer':
      return profile.layers.some((l) => l.id === pin.layer) ? null : none(`layer "${pin.layer}"`);
    case 'module':
      return pin.place <= profile.moduleCount ? null : none(`place ${pin.place}`);
    case 'link':
      return pin.link < profile.moduleCount ? null : none(`link ${pin.link}`);
  }
}

function hasPhoto(slice: FindingState, photoId: string): boolean {
  return slice.photos.some((p) => p.photoId === photoId);
}

function noPhoto(field: string): Refusal {
  return refuse('gone', 'That photograph is not on this job.', ['body', field]);
}
