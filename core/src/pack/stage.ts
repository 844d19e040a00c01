/** The stages of a job, in their usual order. Any order of looking is free; only hazards are gated. */
export const STAGES = ['intake', 'isolate', 'strip', 'open', 'test', 'match', 'rebuild', 'cool', 'refit', 'handOver'] as const;
export type Stage = (typeof STAGES)[number];

export const STAGE_NAMES: Record<Stage, string> = {
  intake: 'Intake',
  isolate: 'Isolate',
  strip: 'Strip',
  open: 'Open',
  test: 'Test',
  match: 'Match',
  rebuild: 'Rebuild',
  cool: 'Cool',
  refit: 'Refit',
  handOver: 'Hand over',
};
