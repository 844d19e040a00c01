/** What becomes of findings and photographs: what was seen is kept where it names what is there. */
import type { Profile } from '../../../pack/profile.ts';
import { refuse, type Refusal } from '../../../result.ts';
import type { Chapter } from '../table.ts';
import type { FINDING, Pin } from './acts.ts';
import type { FindingState } from './state.ts';

export const decideFinding = {
  'finding.noted': (_slice, act, { profile }) => refusePin(act.body.pin, profile),
  'photo.taken': (slice, act) => {
    const isThere = slice.photos.some((p) => p.photoId === act.body.photoId);
    return isThere ? refuse('taken', 'A photograph of this id is on the job already.', ['body', 'photoId']) : null;
  },
  'photo.erased': (slice, act, { role, by }) => {
    const photo = slice.photos.find((p) => p.photoId === act.body.photoId);
    if (!photo) return refuse('gone', 'That photograph is not on this job.', ['body', 'photoId']);
    return role === 'lead' || photo.by === by ? null : refuse('notPermitted', 'The lead, or who took it, erases a photograph.');
  },
} satisfies Chapter<FindingState, typeof FINDING>['decide'];

function refusePin(pin: Pin, profile: Profile): Refusal | null {
  const none = (what: string): Refusal => refuse('unknownName', `There is no ${what}.`, ['body', 'pin']);
  switch (pin.on) {
    case 'photo':
      // it may come later
      return null;
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
