import * as z from 'zod';
import { fact, permit } from './chapter.ts';
import { keepByTable, keptLists, schemasOf, startSlice, traitsOf, withdrawByTable, type Table } from './table.ts';

const BODY = z.strictObject({ what: z.string() });
const TABLE = {
  'thing.seen': { body: BODY, trait: fact('sees a thing', { isTakenBack: true }), effects: 'none', kept: 'seen' },
  'thing.allowed': { body: BODY, trait: permit('allows a thing', 'lead'), effects: 'some', kept: null },
} as const satisfies Table;

const event = (type: keyof typeof TABLE, commandId: string) => ({
  ...{ number: 2, commandId, by: 'om', at: '2026-05-04T08:00:00.000Z', deviceAt: '2026-05-04T08:00:00.000Z' },
  ...{ type, body: { what: commandId } },
});
const kept = (commandId: string) => ({ by: 'om', at: '2026-05-04T08:00:00.000Z', number: 2, what: commandId, commandId });

it('gives the schemas and the traits of its acts', () => {
  expect(schemasOf(TABLE).map((s) => s.safeParse({ type: 'thing.seen', body: { what: 'x' } }).success)).toEqual([true, false]);
  expect(schemasOf(TABLE).some((s) => s.safeParse({ type: 'thing.seen', body: { what: 'x', more: 1 } }).success)).toBe(false);
  expect(traitsOf(TABLE)['thing.allowed'].least).toBe('lead');
});

it('keeps what its acts said in their lists, and leaves the others to code', () => {
  const chapter = { table: TABLE, start: () => ({ own: 1 }), fold: { 'thing.allowed': () => undefined }, effects: { 'thing.allowed': () => [] }, decide: { 'thing.allowed': () => null }, hears: [] }; // prettier-ignore
  const slice = startSlice<{ seen: object[]; own: number }, typeof TABLE>(chapter, {} as never);
  expect(slice).toEqual({ seen: [], own: 1 });
  expect(keepByTable(TABLE, slice, event('thing.seen', 'a'))).toBe(true);
  expect(keepByTable(TABLE, slice, event('thing.seen', 'b'))).toBe(true);
  expect(keepByTable(TABLE, slice, event('thing.allowed', 'c'))).toBe(false);
  expect(slice.seen).toEqual([kept('a'), kept('b')]);
  expect(z.strictObject({ ...keptLists(TABLE), own: z.int() }).parse(slice)).toEqual(slice);
});

it('takes back what one act said, and leaves a list as it was to whoever looked at it before', () => {
  const slice = { seen: [kept('a'), kept('b')] };
  const before = slice.seen;
  withdrawByTable(TABLE, slice, 'nothing');
  expect(slice.seen).toBe(before);
  withdrawByTable(TABLE, slice, 'a');
  expect(slice.seen).toEqual([kept('b')]);
  expect(before).toEqual([kept('a'), kept('b')]);
});
