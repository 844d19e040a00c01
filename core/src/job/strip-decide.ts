/** What becomes of acts of stripping and opening: what was seen is kept whatever the order; signing off and releasing are permits. */
import type { Profile } from '../pack/profile.ts';
import { refuse, type Refusal } from '../result.ts';
import { knownParts } from './strip.ts';
import type { Act } from './event.ts';
import type { JobState } from './state.ts';

/** What of the deciding is asked here. */
interface Asker {
  readonly profile: Profile;
  readonly role: 'apprentice' | 'technician' | 'lead';
  readonly by: string;
}

/** Why an act of strip or open is not kept; null where it is, and for every other act. */
export function refuseStrip(state: JobState, act: Act, { profile, role, by }: Asker): Refusal | null {
  const { strip } = state;
  switch (act.type) {
    case 'part.added':
      return [...profile.zones, ...profile.layers].some((p) => p.id === act.body.place)
        ? null
        : refuse('unknownName', `The profile has no zone and no layer "${act.body.place}".`, ['body', 'place']);
    case 'part.moved':
      if (act.body.to.kind === 'new') return refuse('impossible', 'New pieces come, they do not go there.', ['body', 'to']);
      return findPart(state, act.body.partId, profile);
    case 'part.leftOff':
      if (role === 'apprentice') return refuse('notPermitted', 'A technician or the lead signs for what is left off.');
      return findPart(state, act.body.partId, profile);
    case 'finding.noted': {
      const { pin } = act.body;
      if (pin.on === 'photo' && !strip.photos.some((p) => p.photoId === pin.photoId)) return noPhoto('pin');
      if (pin.on === 'zone' && !profile.zones.some((z) => z.id === pin.zone))
        return refuse('unknownName', `There is no zone "${pin.zone}".`, ['body', 'pin']);
      if (pin.on === 'layer' && !profile.layers.some((l) => l.id === pin.layer))
        return refuse('unknownName', `There is no layer "${pin.layer}".`, ['body', 'pin']);
      if (pin.on === 'module' && pin.place > profile.moduleCount)
        return refuse('unknownName', `There is no place ${pin.place}.`, ['body', 'pin']);
      if (pin.on === 'link' && pin.link >= profile.moduleCount)
        return refuse('unknownName', `There is no link ${pin.link}.`, ['body', 'pin']);
      return null;
    }
    case 'finding.settled':
      return strip.findings.some((f) => f.findingId === act.body.findingId)
        ? null
        : refuse('gone', 'That finding is not on this job; it may have been taken back.', ['body', 'findingId']);
    case 'photo.taken': {
      const { photoId, pairOf } = act.body;
      if (strip.photos.some((p) => p.photoId === photoId))
        return refuse('taken', 'A photograph of this id is on the job already.', ['body', 'photoId']);
      return pairOf === null || strip.photos.some((p) => p.photoId === pairOf) ? null : noPhoto('pairOf');
    }
    case 'photo.erased': {
      const photo = strip.photos.find((p) => p.photoId === act.body.photoId);
      if (!photo) return noPhoto('photoId');
      return role === 'lead' || photo.by === by ? null : refuse('notPermitted', 'The lead, or who took it, erases a photograph.');
    }
    case 'transfer.stated':
      return profile.transfer.some((t) => t.id === act.body.transferId)
        ? null
        : refuse('unknownName', `The profile has no part "${act.body.transferId}" to move across.`, ['body', 'transferId']);
    case 'orientation.recorded': {
      const odd = act.body.sensors.findIndex((s) => !profile.sensors.some((known) => known.id === s.sensorId));
      return odd < 0
        ? null
        : refuse('unknownName', `The pack has no sensor "${act.body.sensors[odd]?.sensorId}".`, ['body', 'sensors', odd]);
    }
    case 'modules.released':
      if (role === 'apprentice') return refuse('notPermitted', 'A technician or the lead lets the modules be moved.');
      return strip.orientation
        ? null
        : refuse('notPermitted', 'How the pack lies is not recorded yet: corner, numbers, threaded side, vents and sensors come first.');
    default:
      return null;
  }
}

function findPart(state: JobState, partId: string, profile: Profile): Refusal | null {
  return knownParts(state, profile).some((p) => p.id === partId)
    ? null
    : refuse('unknownName', `There is no part "${partId}" on this job.`, ['body', 'partId']);
}

function noPhoto(field: string): Refusal {
  return refuse('gone', 'That photograph is not on this job.', ['body', field]);
}
