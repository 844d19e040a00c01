import type { Profile } from '../../../pack/profile.ts';
import { refuse, type Refusal } from '../../../result.ts';
import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { STRIP } from './acts.ts';
import { knownParts, type StripState } from './state.ts';

/** The chapter of what came off: what was seen is kept whatever the order, signing for what is left off is a permit. */
export const strip: Chapter<StripState, typeof STRIP> = {
  table: STRIP,
  start: () => ({ added: [], moved: [], transfers: new Map(), lift: null }),
  fold: {
    'part.added': (slice, event) => {
      const { stage: _, isForeign, isProposed, ...known } = event.body;
      const part = { ...known, id: event.commandId, tool: '', torque: null, caution: '', effects: [] };
      slice.added.push({ ...markOf(event), isForeign, isProposed, part });
    },
    'part.moved': (slice, event) => {
      // told of more than anything but readings: written out, which is quicker than spread
      const { by, at, number, commandId } = event;
      const { stage, partId, count, from, to, condition } = event.body;
      slice.moved.push({ by, at, number, stage, partId, count, from, to, condition, commandId });
    },
    'transfer.stated': (slice, event) => {
      const { transferId, ...stands } = event.body;
      slice.transfers.set(transferId, { ...markOf(event), ...stands });
    },
    'lift.planned': (slice, event) => {
      const { at, number, by } = event;
      slice.lift = { at, number, plannedBy: by, ...event.body };
    },
  },
  effects: {},
  decide: {
    'part.added': (_slice, { body }, { profile }) =>
      [...profile.zones, ...profile.layers].some((p) => p.id === body.place)
        ? null
        : refuse('unknownName', `The profile has no zone and no layer "${body.place}".`, ['body', 'place']),
    'part.moved': (slice, { body }, { profile }) =>
      body.to.kind === 'new'
        ? refuse('impossible', 'New pieces come, they do not go there.', ['body', 'to'])
        : refuseUnknown(slice, body.partId, profile),
    'part.leftOff': (slice, { body }, { profile }) => refuseUnknown(slice, body.partId, profile),
    'transfer.stated': (_slice, { body }, { profile }) =>
      profile.transfer.some((t) => t.id === body.transferId)
        ? null
        : refuse('unknownName', `The profile has no part "${body.transferId}" to move across.`, ['body', 'transferId']),
  },
  hears: [],
  withdraw: (slice, commandId) => {
    slice.added = slice.added.filter((a) => a.part.id !== commandId);
    slice.moved = slice.moved.filter((m) => m.commandId !== commandId);
  },
};

function refuseUnknown(strip: StripState, partId: string, profile: Profile): Refusal | null {
  return knownParts({ strip }, profile).some((p) => p.id === partId)
    ? null
    : refuse('unknownName', `There is no part "${partId}" on this job.`, ['body', 'partId']);
}
