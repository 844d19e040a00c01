import fc from 'fast-check';
import type { Part } from '../pack/parts.ts';
import { balanceLedger, countInPlace, findLookAlikes, findMixedCells, listBackwards, type Movement } from './ledger.ts';
import { CONDITIONS, isAtHand, isFit, spotKey, spotName, type Condition, type Spot } from './spot.ts';
import { suggestCell, trayCells } from './tray.ts';
import { findTakenCells, listStillIn, listTakenTogether, takeOffWhole, usualSpot } from './whole-place.ts';

function part(id: string, count: number | null, change: Partial<Part> = {}): Part {
  return {
    ...{ id, kind: 'fastener', name: id, place: 'boot', where: 'here', size: '10 mm', count, tool: 'ratchet', torque: null },
    ...{ isHidden: false, caution: '', effects: [] },
    ...change,
  };
}

const IN: Spot = { kind: 'inPlace' };
const B3: Spot = { kind: 'tray', cell: 'B3' };
let number = 0;
const move = (partId: string, count: number, from: Spot, to: Spot, condition: Condition = 'good'): Movement => ({
  ...{ partId, count, from, to, condition },
  number: ++number,
});
const of = (movements: Movement[], count: number | null = 6, leftOff: { partId: string; count: number }[] = []) => {
  const found = balanceLedger([part('bolt', count)], movements, leftOff).parts[0];
  if (!found) throw new Error('no part');
  return found;
};

describe('the balance of a part', () => {
  it('owes what came off until it is back', () => {
    const out = move('bolt', 6, IN, B3);
    expect(of([out])).toMatchObject({ out: 6, back: 0, owed: 6, toOrder: 0, surplus: 0, lots: [{ spot: B3, count: 6 }] });
    expect(of([out, move('bolt', 4, B3, IN)])).toMatchObject({ owed: 2, lots: [{ count: 2 }] });
    expect(of([out, move('bolt', 6, B3, IN)])).toMatchObject({ owed: 0, lots: [] });
  });

  it('orders what is stripped, broken, scrapped or was never there, until new ones go in', () => {
    const movements = [
      move('bolt', 3, IN, B3),
      move('bolt', 1, IN, B3, 'stripped'),
      move('bolt', 1, IN, { kind: 'scrapped' }, 'broken'),
      move('bolt', 1, IN, { kind: 'absent' }),
    ];
    expect(of(movements)).toMatchObject({ out: 5, absent: 1, owed: 6, toOrder: 3 });
    expect(of([...movements, move('bolt', 3, { kind: 'new' }, IN)])).toMatchObject({ owed: 3, toOrder: 0 });
  });

  it('counts a corroded one as fit, and one left off knowingly as settled', () => {
    expect(of([move('bolt', 6, IN, B3, 'corroded')])).toMatchObject({ toOrder: 0 });
    expect(of([move('bolt', 6, IN, B3)], 6, [{ partId: 'bolt', count: 1 }])).toMatchObject({ owed: 5, leftOff: 1 });
  });

  it('shows pieces counted twice as more than the place holds, and loses neither count', () => {
    expect(of([move('bolt', 6, IN, B3), move('bolt', 6, IN, { kind: 'bag', label: '1' })])).toMatchObject({
      out: 12,
      surplus: 6,
      owed: 12,
    });
  });

  it('asks nothing back for an extra piece of an earlier hand, in whichever order it came off', () => {
    const extra = move('bolt', 1, IN, B3, 'added');
    const own = move('bolt', 6, IN, B3);
    for (const movements of [[extra, own], [own, extra]]) expect(of(movements)).toMatchObject({ foreign: 1, owed: 6, surplus: 0, toOrder: 0 }); // prettier-ignore
    // one that sat in the place of the right one is replaced
    expect(of([extra, move('bolt', 5, IN, B3)])).toMatchObject({ foreign: 0, owed: 6, toOrder: 1 });
    // and taking all out once more asks for nothing more
    const again = [extra, own, move('bolt', 6, B3, IN), move('bolt', 6, IN, B3), move('bolt', 6, B3, IN)];
    expect(of(again)).toMatchObject({ owed: 0, foreign: 1 });
  });

  it('takes any number from a part that the profile does not count', () => {
    expect(of([move('bolt', 9, IN, B3)], null)).toMatchObject({ owed: 9, surplus: 0 });
    expect(countInPlace(of([], null))).toBeNull();
    expect(countInPlace(of([move('bolt', 2, IN, B3)]))).toBe(4);
  });
});

describe('an extra piece of an earlier hand', () => {
  const extra = (count: number) => move('bolt', count, IN, B3, 'added');
  it('counts no second time once its place was filled again', () => {
    // six of its own and one more came off, all six are back: the place is full, and nothing is extra or owed
    const full = [move('bolt', 6, IN, B3), extra(1), move('bolt', 6, B3, IN)];
    expect(of(full)).toMatchObject({ foreign: 1, owed: 0, surplus: 0 });
    expect(countInPlace(of(full))).toBe(6);
    expect(countInPlace(of([move('bolt', 6, IN, B3), extra(1)]))).toBe(0);
    expect(of([...full, move('bolt', 6, IN, B3)])).toMatchObject({ foreign: 1, owed: 6, surplus: 0 });
    // and a second extra one counts as well
    expect(of([move('bolt', 6, IN, B3), extra(1), extra(2)])).toMatchObject({ foreign: 3, owed: 6, surplus: 0 });
  });
  it('is of no place that nobody counted', () => {
    expect(of([move('bolt', 2, IN, B3), extra(1), extra(2)], null)).toMatchObject({ foreign: 3, owed: 2 });
    expect(of([move('bolt', 1, IN, { kind: 'absent' }, 'added')], null)).toMatchObject({ foreign: 0, absent: 1 });
  });
});

it('takes a piece that was never there, and was found after all, for none that is absent', () => {
  const missed = move('bolt', 2, IN, { kind: 'absent' });
  expect(of([missed, move('bolt', 2, { kind: 'absent' }, IN)])).toMatchObject({ absent: 0, back: 0, owed: 0 });
  expect(of([missed, move('bolt', 2, { kind: 'new' }, IN)])).toMatchObject({ absent: 2, back: 2, owed: 0 });
});

it('knows when the last piece went out of its place and when the last came in', () => {
  const [a, b, c, d] = [move('bolt', 1, IN, B3), move('bolt', 1, IN, B3), move('bolt', 1, B3, IN), move('bolt', 1, B3, IN)];
  expect(of([a, b, c, d])).toMatchObject({ lastOut: b.number, lastIn: d.number });
  // also where another device's come late
  expect(of([b, a, d, c])).toMatchObject({ lastOut: b.number, lastIn: d.number });
  // what stays in its place did not move
  expect(of([move('bolt', 1, IN, IN)])).toMatchObject({ out: 0, lastOut: 0, lastIn: 0 });
});

it('offers first on the way back what came off last', () => {
  const parts = [part('a', 2), part('b', 2), part('c', 2)];
  const movements = [move('a', 2, IN, B3), move('b', 2, IN, B3), move('c', 2, IN, B3), move('c', 2, B3, IN)];
  expect(listBackwards(balanceLedger(parts, movements)).map((b) => b.part.id)).toEqual(['b', 'a']);
});

it('names fasteners of one size under two names, and the cell they were mixed in', () => {
  const parts = [part('long', 2), part('short', 3), part('other', 1, { size: '12 mm' }), part('clip', 4, { kind: 'clip' })];
  expect(findLookAlikes(parts).map((l) => [l.part.id, l.other.id])).toEqual([['long', 'short']]);
  const apart = [move('long', 2, IN, B3), move('short', 3, IN, { kind: 'tray', cell: 'B4' })];
  expect(findMixedCells(balanceLedger(parts, apart))).toEqual([]);
  expect(findMixedCells(balanceLedger(parts, [...apart, move('short', 1, IN, B3)]))).toEqual([{ cell: 'B3', names: ['long', 'short'] }]);
  // neither where one of them was only taken from, nor in a bag, nor of another kind or without a size
  expect(findMixedCells(balanceLedger(parts, [...apart, move('short', 1, B3, IN)]))).toEqual([]);
  const bag: Spot = { kind: 'bag', label: 'B3' };
  expect(findMixedCells(balanceLedger(parts, [move('long', 1, IN, bag), move('short', 1, IN, bag)]))).toEqual([]);
  expect(findLookAlikes([part('a', 1, { kind: 'clip' }), part('b', 1, { kind: 'clip' })])).toEqual([]);
  expect(findLookAlikes([part('a', 1, { size: '' }), part('b', 1, { size: '' })])).toEqual([]);
  expect(findLookAlikes([part('a', 1), part('b', 1, { name: 'a' })])).toEqual([]);
});

describe('the tray', () => {
  const zone = (id: string, x: number, y: number) => ({ id, name: id, area: { x, y, length: 10, width: 10 }, note: '' });
  it('offers the free cell that lies as the zone lies in the vehicle', () => {
    const zones = [zone('front-left', 0, 34), zone('rear-right', 90, 0)];
    expect(suggestCell('front-left', zones, [], new Set())).toBe('A6');
    expect(suggestCell('rear-right', zones, [], new Set())).toBe('H1');
    expect(suggestCell('rear-right', zones, [], new Set(['H1']))).toMatch(/^(G1|H2)$/);
    // of two that lie as near the first, row by row
    expect(suggestCell('middle', [zone('middle', 45, 17)], [], new Set())).toBe('D3');
  });
  it('fills from the last row for layers of the pack, and says when it is full', () => {
    const layers = [{ id: 'lid', name: 'lid', fact: null, note: '' }];
    expect(suggestCell('lid', [], layers, new Set())).toBe('A6');
    expect(suggestCell('lid', [], layers, new Set(trayCells()))).toBeNull();
  });
});

describe('for any sequence of movements', () => {
  const spot = fc.constantFrom<Spot>(IN, B3, { kind: 'bag', label: 'x' }, { kind: 'onPart' }, { kind: 'stud' }, { kind: 'scrapped' }, { kind: 'absent' }, { kind: 'new' }); // prettier-ignore
  const movement = fc.record({
    ...{ partId: fc.constantFrom('a', 'b'), count: fc.integer({ min: 1, max: 9 }), from: spot, to: spot },
    ...{ condition: fc.constantFrom(...CONDITIONS), number: fc.integer({ min: 1, max: 1e6 }) },
  });
  const parts = [part('a', 5), part('b', null)];

  it('owed is out plus absent less back, less what is settled, and no piece is lost', () => {
    fc.assert(
      fc.property(
        fc.array(movement, { maxLength: 30 }),
        fc.array(fc.record({ partId: fc.constantFrom('a', 'b'), count: fc.nat(4) })),
        (movements, leftOff) => {
          for (const b of balanceLedger(parts, movements, leftOff).parts) {
            // a plain second count: what flows over the edge of the place and of every other spot
            const mine = movements.filter((m) => m.partId === b.part.id && m.from.kind !== m.to.kind);
            const over = (a: Spot['kind'] | null, z: Spot['kind'] | null): number =>
              mine.filter((m) => (a === null || m.from.kind === a) && (z === null || m.to.kind === z)).reduce((n, m) => n + m.count, 0);
            const gone = over('inPlace', null) - over(null, 'inPlace');
            expect(b.owed + b.leftOff + b.foreign).toBe(gone);
            expect(b.out + b.absent - b.back).toBe(gone);
            const elsewhere = b.lots.reduce((n, lot) => n + lot.count, 0);
            const isOutside = (kind: Spot['kind']): boolean => ['inPlace', 'absent', 'new'].includes(kind);
            const cross = (isIn: boolean): number =>
              mine.filter((m) => isOutside(m.from.kind) === isIn && isOutside(m.to.kind) !== isIn).reduce((n, m) => n + m.count, 0);
            expect(elsewhere).toBe(cross(true) - cross(false));
            const fit = b.lots.filter((l) => isAtHand(l.spot) && isFit(l.condition)).reduce((n, l) => n + Math.max(0, l.count), 0);
            expect(b.toOrder).toBe(Math.max(0, b.owed - fit));
          }
        },
      ),
    );
  });

  it('taking a movement back leaves the balance as it was without it', () => {
    fc.assert(
      fc.property(fc.array(movement, { maxLength: 20 }), movement, fc.nat(20), (movements, extra, at) => {
        const with_ = [...movements.slice(0, at), extra, ...movements.slice(at)];
        expect(
          balanceLedger(
            parts,
            with_.filter((m) => m !== extra),
          ),
        ).toEqual(balanceLedger(parts, movements));
      }),
    );
  });

  it('two devices may interleave their movements in any order: the sums are the same', () => {
    fc.assert(
      fc.property(fc.array(movement, { maxLength: 12 }), fc.array(movement, { maxLength: 12 }), (one, two) => {
        const sums = (list: readonly Movement[]) =>
          balanceLedger(parts, list).parts.map(({ out, back, absent, lots }) => ({
            ...{ out, back, absent },
            lots: lots.map((l) => `${spotKey(l.spot)}/${l.condition}:${l.count}`).sort(),
          }));
        const zipped = one.flatMap((m, i) => (two[i] ? [two[i] as Movement, m] : [m])).concat(two.slice(one.length));
        expect(sums(zipped)).toEqual(sums([...one, ...two]));
      }),
    );
  });
});

describe('a spot', () => {
  const spots: Spot[] = [
    IN,
    B3,
    { kind: 'bag', label: 'seats' },
    { kind: 'onPart' },
    { kind: 'stud' },
    { kind: 'scrapped' },
    { kind: 'absent' },
    { kind: 'new' },
  ];
  it('has a key of its own, with cell and label in it', () => {
    expect(spots.map(spotKey)).toEqual(['inPlace', 'tray:B3', 'bag:seats', 'onPart', 'stud', 'scrapped', 'absent', 'new']);
  });
  it('is at hand where a piece can be taken from it again', () => {
    expect(spots.filter(isAtHand).map((s) => s.kind)).toEqual(['tray', 'bag', 'onPart', 'stud']);
  });
  it('has words that tell cell and label', () => {
    const words = spots.map(spotName);
    expect(new Set(words).size).toBe(spots.length);
    expect(words.every((w) => w.trim() !== '')).toBe(true);
    expect([words[1], words[2]]).toEqual([expect.stringContaining('B3'), expect.stringContaining('seats')]);
  });
});

describe('the balance of all', () => {
  const bolts = [part('bolt', 6), part('nut', 4, { kind: 'fastener', size: '8 mm' })];
  it('adds up every column of its parts', () => {
    const movements = [
      move('bolt', 5, IN, B3),
      move('bolt', 1, IN, { kind: 'absent' }),
      move('bolt', 2, B3, IN),
      move('nut', 3, IN, B3),
      move('nut', 1, IN, { kind: 'scrapped' }, 'broken'),
    ];
    const all = balanceLedger(bolts, movements, [{ partId: 'nut', count: 1 }]);
    const [bolt, nut] = all.parts;
    for (const figure of ['out', 'back', 'absent', 'leftOff', 'toOrder'] as const)
      expect([figure, all[figure]]).toEqual([figure, (bolt?.[figure] ?? 0) + (nut?.[figure] ?? 0)]);
    expect(all).toMatchObject({ out: 9, back: 2, absent: 1, leftOff: 1 });
    expect(all.owed).toBe(Math.max(0, bolt?.owed ?? 0) + Math.max(0, nut?.owed ?? 0));
    expect(all.owed).toBeGreaterThan(0);
  });
  it('counts what is left in place: all less what came off and was never there, and what is back', () => {
    const count = (movements: Movement[]) => countInPlace(of(movements));
    expect(count([])).toBe(6);
    expect(count([move('bolt', 4, IN, B3), move('bolt', 1, IN, { kind: 'absent' }), move('bolt', 2, B3, IN)])).toBe(3);
    expect(countInPlace(of([], null))).toBeNull();
  });
  it('takes a move within one spot for none', () => {
    expect(of([move('bolt', 2, B3, { kind: 'tray', cell: 'C1' })])).toMatchObject({ out: 0, owed: 0, back: 0 });
  });
});

describe('the cell for a layer', () => {
  const layers = ['lid', 'covers', 'bars'].map((id) => ({ id, name: id, fact: null, note: '' }));
  it('goes along the last row, one column a layer, and past what is taken', () => {
    const last = trayCells().at(-1)?.slice(1);
    expect(layers.map((l) => suggestCell(l.id, [], layers, new Set()))).toEqual([`A${last}`, `B${last}`, `C${last}`]);
    expect(suggestCell('lid', [], layers, new Set([`A${last}`]))).not.toBe(`A${last}`);
    expect(suggestCell('lid', [], layers, new Set(trayCells()))).toBeNull();
  });
});

describe('a whole place in one act', () => {
  const zones = [{ id: 'boot', name: 'boot', area: { x: 70, y: 10, length: 20, width: 20 }, note: '' }];
  const groups = [
    part('bolt', 6),
    part('nut', 2),
    part('clip', 4, { kind: 'clip' }),
    part('lid', 1, { kind: 'cover' }),
    part('found', null),
    part('lead', 2, { kind: 'cable' }),
    part('washer', 3),
    part('post-cover', 1, { kind: 'cover', effects: [{ kind: 'bares', what: 'carSide' }] }),
  ];
  const all = new Set(groups.map((g) => g.id));
  const after = (movements: Movement[]) => balanceLedger(groups, movements, []);
  const movesOf = (movements: Movement[], chosen: ReadonlySet<string> = all) => {
    const balance = after(movements);
    return takeOffWhole(balance.parts, chosen, { zones, layers: [], taken: findTakenCells(balance) });
  };

  it('ends before the first group that bares or parts something, or is a cable; what nobody counted stays out', () => {
    expect(listTakenTogether(after([]).parts).map((v) => v.part.id)).toEqual(['bolt', 'nut', 'clip', 'lid']);
    const off = [move('lead', 2, IN, { kind: 'onPart' })];
    expect(listTakenTogether(after(off).parts).map((v) => v.part.id)).toEqual(['bolt', 'nut', 'clip', 'lid', 'washer']);
    expect(movesOf([], new Set(['washer', 'post-cover']))).toEqual([]);
  });

  it('moves what is still in, each group to a cell of its own, clips to a bag, covers with their part', () => {
    const moves = movesOf([move('bolt', 4, IN, B3)], new Set(['bolt', 'nut', 'clip', 'lid', 'found']));
    expect(moves.map((m) => [m.partId, m.count, m.to.kind])).toEqual([
      ['bolt', 2, 'tray'],
      ['nut', 2, 'tray'],
      ['clip', 4, 'bag'],
      ['lid', 1, 'onPart'],
    ]);
    const cells = moves.flatMap((m) => (m.to.kind === 'tray' ? [m.to.cell] : []));
    expect(new Set([...cells, 'B3']).size).toBe(3);
    expect(
      after([move('bolt', 4, IN, B3), ...moves.map((m) => ({ ...m, number: ++number }))])
        .parts.slice(0, 4)
        .map((p) => p.owed),
    ).toEqual([6, 2, 4, 1]);
  });

  it('takes a layer off whole, with what it bares: that is what it is about', () => {
    const layers = [{ id: 'boot', name: 'lid', fact: null, note: '' }];
    const balance = after([]);
    const ids = balance.parts.map((v) => v.part.id);
    expect(listTakenTogether(balance.parts, true).map((v) => v.part.id)).toEqual(ids.filter((id) => id !== 'found'));
    const moves = takeOffWhole(balance.parts, all, { zones: [], layers, taken: new Set() });
    expect(moves.map((m) => m.partId)).toContain('post-cover');
  });

  it('takes a zone for no layer because the pack has layers', () => {
    const layers = [{ id: 'lid', name: 'lid', fact: null, note: '' }];
    const balance = after([]);
    const moves = takeOffWhole(balance.parts, all, { zones, layers, taken: new Set() });
    expect(moves.map((m) => m.partId)).toEqual(['bolt', 'nut', 'clip', 'lid']);
    expect(takeOffWhole([], all, { zones, layers, taken: new Set() })).toEqual([]);
  });

  it('leaves covers, ducts and cables with their part', () => {
    const kinds = ['cover', 'duct', 'cable', 'clip', 'fastener'] as const;
    expect(kinds.map((kind) => usualSpot(part('x', 1, { kind }), 'C2').kind)).toEqual(['onPart', 'onPart', 'onPart', 'bag', 'tray']);
  });

  it('takes a cell for held while a piece is in it', () => {
    const moves = [
      move('bolt', 2, IN, B3),
      move('nut', 1, IN, { kind: 'bag', label: 'A1' }),
      move('washer', 1, { kind: 'tray', cell: 'C1' }, IN),
    ];
    expect([...findTakenCells(after(moves))]).toEqual(['B3']);
    expect([...findTakenCells(after([...moves, move('bolt', 2, B3, IN)]))]).toEqual([]);
    // a bag of that name holds no cell
    const bagged = takeOffWhole(after([]).parts, new Set(['clip', 'nut']), { zones, layers: [], taken: new Set() });
    expect(bagged.map((m) => m.to.kind)).toEqual(['tray', 'bag']);
  });

  it('takes nothing off twice, and only what was chosen', () => {
    const off = [move('bolt', 6, IN, B3), move('nut', 2, IN, { kind: 'tray', cell: 'B4' })];
    expect(movesOf(off, new Set(['bolt', 'nut']))).toEqual([]);
    expect(listStillIn(after(off).parts).map((v) => v.part.id)).toEqual(['clip', 'lid', 'found', 'lead', 'washer', 'post-cover']);
    expect(movesOf([], new Set(['lid']))).toHaveLength(1);
  });

  it('puts into a bag what no cell is free for', () => {
    const full = trayCells().map((cell) => move('lead', 1, IN, { kind: 'tray', cell }));
    expect(movesOf(full, new Set(['nut']))[0]?.to).toEqual({ kind: 'bag', label: 'nut' });
    expect(usualSpot(part('nut', 2), null)).toEqual({ kind: 'bag', label: 'nut' });
  });
});
