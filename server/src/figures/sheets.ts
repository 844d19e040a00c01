/** The figures of the shop as the sheets of a workbook. */
import type { Policy, ShopFigures } from '@estuarine/core';
import type { Sheet } from './workbook.ts';

export function sheetsOf({ comebacks, minutes, money, months }: ShopFigures, { wording, money: { currency } }: Policy): Sheet[] {
  return [
    {
      name: 'Comebacks',
      columns: ['school', 'profile', 'closed', 'came back', 'share, one of each added', 'jobs'].map((name) => ({ name, width: 22 })),
      rows: comebacks.map((c) => [c.schoolName, c.profileName, c.closed, c.comebacks, c.share, c.jobs.join(' ')]),
    },
    {
      name: 'Minutes',
      columns: ['profile', 'stage', 'quoted / min', 'median / min', 'jobs'].map((name) => ({ name })),
      rows: minutes.map((m) => [m.profileName, wording[m.stage], m.quotedMinute, Math.round(m.medianMinute), m.jobs]),
    },
    {
      name: 'Money out',
      columns: ['job', 'supplier', 'what', 'count', `deposit / ${currency}`, `outstanding / ${currency}`, 'ship by', 'shipped', 'disputed', 'late'].map((name) => ({ name })), // prettier-ignore
      rows: money.map((m) => [
        m.number,
        m.supplier,
        m.what,
        m.count,
        m.deposit,
        m.outstanding,
        m.shipBy,
        m.isShipped,
        m.isDisputed,
        m.isLate,
      ]),
    },
    {
      name: 'Modules',
      columns: ['month', 'jobs closed', 'into packs', 'out of packs'].map((name) => ({ name })),
      rows: months.map((m) => [m.month, m.closed, m.in, m.out]),
    },
  ];
}
