/** Acts of the ledger, as the screens of strip and open make them. */
import { countInPlace, type Act, type PartBalance, type Stage } from '@estuarine/core';
import type { Move } from './part-card.ts';

export function moveAct(stage: Stage, move: Move): Act {
  return { type: 'part.moved', body: { stage, ...move } };
}

/** All pieces of a group that are still in, into one cell of the tray; null where none is. */
export function intoCell(view: PartBalance, cell: string): Move | null {
  const count = countInPlace(view) ?? 1;
  if (count <= 0) return null;
  return { partId: view.part.id, count, from: { kind: 'inPlace' }, to: { kind: 'tray', cell }, condition: 'good' };
}
