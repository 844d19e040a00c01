import { markOf } from '../chapter.ts';
import type { Chapter } from '../table.ts';
import { FINDING } from './acts.ts';
import { decideFinding } from './decide.ts';
import type { FindingState } from './state.ts';

/** The chapter of what was seen. */
export const finding: Chapter<FindingState, typeof FINDING> = {
  table: FINDING,
  start: () => ({ findings: [], photos: [] }),
  fold: {
    'finding.noted': (slice, event) => {
      slice.findings.push({ ...markOf(event), ...event.body, findingId: event.commandId, settled: null });
    },
    'finding.settled': (slice, event) => {
      const noted = slice.findings.find((f) => f.findingId === event.body.findingId);
      if (noted) noted.settled = { ...markOf(event), note: event.body.note };
    },
    'photo.taken': (slice, event) => {
      slice.photos.push({ ...markOf(event), ...event.body, erased: null });
    },
    'photo.erased': (slice, event) => {
      const photo = slice.photos.find((p) => p.photoId === event.body.photoId);
      if (photo) photo.erased ??= { ...markOf(event), reason: event.body.reason };
    },
  },
  effects: {},
  decide: decideFinding,
  hears: [],
  withdraw: (slice, commandId) => {
    slice.findings = slice.findings.filter((f) => f.findingId !== commandId);
  },
};
