/** Conditions of two invented suppliers. */
import { TERMS_FORMAT, type SupplierTerms } from '@estuarine/core';
import { hasCommand, keepShopAct } from '@estuarine/server';
import type pg from 'pg';

export const DEMO_TERMS: readonly SupplierTerms[] = [
  {
    ...{ format: TERMS_FORMAT, id: 'marsh-cells', version: 1, supplier: 'Marsh Cell Traders', months: 24 },
    conditions: [
      { kind: 'orderKept' },
      { kind: 'torqueBothPasses' },
      { kind: 'barsRenewed' },
      { kind: 'coolingAnswered' },
      { kind: 'scanKept' },
      { kind: 'photographs', least: 1 },
      { kind: 'oldReturned', withinDays: 14 },
    ],
  },
  {
    ...{ format: TERMS_FORMAT, id: 'saltway-packs', version: 1, supplier: 'Saltway Pack Exchange', months: 36 },
    conditions: [
      { kind: 'coolingAnswered' },
      { kind: 'scanKept' },
      { kind: 'oldReturned', withinDays: 21 },
      { kind: 'finishedWithin', days: 30 },
    ],
  },
];

/** Published once; a shop that has them keeps them. */
export async function seedTerms(pool: pg.Pool, shopId: string, at: Date): Promise<void> {
  for (const terms of DEMO_TERMS) {
    const commandId = `demo-terms-${terms.id}-${terms.version}`;
    if (await hasCommand(pool, shopId, commandId)) continue;
    const act = { type: 'terms.published', body: { terms } } as const;
    await keepShopAct({ pool, shopId, clock: () => at }, { commandId, by: 'ts', deviceAt: at.toISOString(), act }, 'lead');
  }
}
