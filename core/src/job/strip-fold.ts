/** How events of stripping and opening change the state of a job. */
import type { JobEvent } from './event.ts';
import type { JobState, Mark } from './state.ts';

/** Applies an event of strip or open; others change nothing. Gives whether its author can take it back. */
export function applyStrip(state: JobState, event: JobEvent): boolean {
  const { strip } = state;
  const mark: Mark = { by: event.by, at: event.at, number: event.number };
  const { commandId } = event;
  switch (event.type) {
    case 'part.added': {
      const { stage, isForeign, isProposed, ...known } = event.body;
      strip.added.push({ ...mark, isForeign, isProposed, part: { ...known, id: commandId, tool: '', torque: null, caution: '' } });
      state.stage = stage;
      return true;
    }
    case 'part.moved':
      strip.moved.push({ ...mark, ...event.body, commandId });
      state.stage = event.body.stage;
      return true;
    case 'part.leftOff':
      strip.leftOff.push({ ...mark, ...event.body, commandId });
      return true;
    case 'finding.noted':
      strip.findings.push({ ...mark, ...event.body, findingId: commandId, settled: null });
      state.stage = event.body.stage;
      return true;
    case 'finding.settled': {
      const finding = strip.findings.find((f) => f.findingId === event.body.findingId);
      if (finding) finding.settled = { ...mark, note: event.body.note };
      return false;
    }
    case 'photo.taken':
      strip.photos.push({ ...mark, ...event.body, erased: null });
      return false;
    case 'photo.erased': {
      const photo = strip.photos.find((p) => p.photoId === event.body.photoId);
      if (photo) photo.erased ??= { ...mark, reason: event.body.reason };
      return false;
    }
    case 'transfer.stated': {
      const { transferId, ...stands } = event.body;
      strip.transfers[transferId] = { ...mark, ...stands };
      return false;
    }
    case 'lift.planned':
      strip.lift = { ...mark, ...event.body };
      state.stage = 'strip';
      return false;
    case 'orientation.recorded':
      strip.orientation = { ...mark, ...event.body };
      state.stage = 'open';
      return false;
    case 'modules.released':
      strip.released ??= mark;
      state.stage = 'open';
      return false;
    default:
      return false;
  }
}

/** Takes what an act added out of what counts: exactly as if it had not been. */
export function withdrawStrip({ strip }: JobState, commandId: string): void {
  strip.added = strip.added.filter((a) => a.part.id !== commandId);
  strip.moved = strip.moved.filter((m) => m.commandId !== commandId);
  strip.leftOff = strip.leftOff.filter((l) => l.commandId !== commandId);
  strip.findings = strip.findings.filter((f) => f.findingId !== commandId);
}
