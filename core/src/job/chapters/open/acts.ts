/** Acts of opening the pack that no fact tells: how it lies, and that its modules may be moved. */
import * as z from 'zod';
import { orientationSchema } from '../../../pack/orientation.ts';
import { fact, permit, type Trait } from '../chapter.ts';

export const OPEN_ACTS = [
  z.strictObject({ type: z.literal('orientation.recorded'), body: orientationSchema }),
  /** Modules may be moved from here on. */
  z.strictObject({ type: z.literal('modules.released'), body: z.strictObject({}) }),
] as const;
export type OpenAct = z.infer<(typeof OPEN_ACTS)[number]>;

export const OPEN_TRAITS = {
  'orientation.recorded': fact('records how the pack lies', { stage: 'open' }),
  'modules.released': permit('lets the modules be moved', 'technician', { stage: 'open' }),
} satisfies Record<OpenAct['type'], Trait>;
