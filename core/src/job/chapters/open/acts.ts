/** Acts of opening the pack that no fact tells: how it lies, and that its modules may be moved. */
import * as z from 'zod';
import { orientationSchema } from '../../../pack/orientation.ts';
import { fact, permit } from '../chapter.ts';
import type { ActOf, Table } from '../table.ts';

/** Every act of this chapter. */
export const OPEN = {
  'orientation.recorded': {
    body: orientationSchema,
    trait: fact('records how the pack lies', { stage: 'open' }),
    effects: 'none',
    kept: null,
  },
  /** Modules may be moved from here on. */
  'modules.released': {
    body: z.strictObject({}),
    trait: permit('lets the modules be moved', 'technician', { stage: 'open' }),
    effects: 'none',
    kept: null,
  },
} as const satisfies Table;
export type OpenAct = ActOf<typeof OPEN>;
