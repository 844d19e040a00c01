import { CLOCK_MILLISECOND, isAfter, orderOf, stampOf, type DeviceWord, type Stamp } from './stamp.ts';

const NOON = Date.parse('2026-05-04T12:00:00Z');
let number = 0;
/** Said so many seconds after noon and kept so many after that. */
function said(second: number, { device, by = 'om', keptAfter = 0 }: { device?: DeviceWord; by?: string; keptAfter?: number } = {}): Stamp {
  const deviceAt = new Date(NOON + second * 1000).toISOString();
  return stampOf({ number: ++number, by, at: new Date(NOON + (second + keptAfter) * 1000).toISOString(), deviceAt, device });
}
const on = (id: string, turn: number, isClockSure = true): { device: DeviceWord } => ({ device: { id, turn, isClockSure } });
const SLACK = (2 * CLOCK_MILLISECOND) / 1000;

describe('which of two was later', () => {
  it('on one device is what it did later, whatever its clock says and whichever came first', () => {
    const second = said(10, on('a', 8));
    const first = said(99, { ...on('a', 7), keptAfter: 500 });
    expect(orderOf(second, first)).toBe('after');
    expect(orderOf(first, second)).toBe('before');
  });

  it('on two devices is told by time beyond what both clocks may be off', () => {
    const early = said(0, { ...on('a', 1), keptAfter: 60 });
    expect(orderOf(said(SLACK + 0.1, on('b', 1)), early)).toBe('after');
    expect(orderOf(said(SLACK - 0.1, on('b', 2)), early)).toBe('unclear');
    expect(orderOf(said(-SLACK - 0.1, on('b', 3)), early)).toBe('before');
  });

  it.each(['0000-01-01T00:00:00.000Z', '1970-01-01T00:00:00.000Z', '9999-12-31T23:59:59.999Z'])(
    'is not told by a clock that says %s: neither late nor last, but on the device itself',
    (deviceAt) => {
      const at = new Date(NOON).toISOString();
      const lost = (more: { device?: DeviceWord }): Stamp => stampOf({ number: ++number, by: 'ts', at, deviceAt, ...more });
      const before = said(-600, on('b', 1));
      for (const one of [lost(on('a', 5)), lost({})]) {
        expect(orderOf(one, before)).toBe('unclear');
        expect(orderOf(before, one)).toBe('unclear');
      }
      expect(orderOf(lost(on('a', 6)), lost(on('a', 5)))).toBe('after');
    },
  );

  it('is never after the server kept it', () => {
    // a clock that runs ahead: said at 12:10 and kept at 12:00
    const ahead = stampOf({ number: ++number, by: 'om', at: new Date(NOON).toISOString(), deviceAt: new Date(NOON + 600_000).toISOString(), ...on('a', 1) }); // prettier-ignore
    expect(ahead.saidAt).toBe(NOON);
    expect(orderOf(said(3, on('b', 1)), ahead)).toBe('after');
  });

  it('of a clock that is not sure is unclear, but for what was kept before the other can have been', () => {
    const unsure = said(0, on('a', 1, false));
    expect(orderOf(said(3, on('b', 1)), unsure)).toBe('after');
    expect(orderOf(said(-3600, on('b', 2)), unsure)).toBe('unclear');
    expect(isAfter(unsure, said(-86_400, on('b', 3)))).toBe(false);
  });

  it('without a word of the devices is what came later, unless it was certainly said before', () => {
    const stands = said(0);
    expect(orderOf(said(0), stands)).toBe('after');
    expect(orderOf(said(-1, { keptAfter: 5 }), stands)).toBe('after');
    expect(orderOf(said(-7200, { keptAfter: 7205 }), stands)).toBe('before');
    // a reading is believed to be later only if it certainly was
    expect(isAfter(said(1, { by: 'ts' }), stands)).toBe(false);
    expect(isAfter(said(SLACK + 1, { by: 'ts' }), stands)).toBe(true);
    expect(isAfter(said(1), stands)).toBe(true);
  });
});
