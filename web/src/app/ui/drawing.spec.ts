import {
  drawLine,
  layOutPack,
  nearestLink,
  nearestPlace,
  SLAB_HEIGHT,
  startState,
  traceExposure,
  type Profile,
  type TracePoint,
} from '@estuarine/core';
import { testProfile } from '../../test/profile.ts';

const profile: Profile = testProfile();

describe('layOutPack', () => {
  it('draws bays apart where they lie in one row, and within the width', () => {
    const bays = [
      { name: 'left', from: 1, to: 10 },
      { name: 'right', from: 11, to: 28 },
    ];
    const { slabs } = layOutPack({ ...profile, bays }, 840);
    const gap = (place: number): number => (slabs[place]?.x ?? 0) - (slabs[place - 1]?.x ?? 0) - (slabs[place - 1]?.width ?? 0);
    expect(gap(10)).toBeGreaterThan(gap(9) + 10);
    expect(gap(11)).toBeCloseTo(gap(9), 6);
    expect((slabs[27]?.x ?? 0) + (slabs[27]?.width ?? 0)).toBeLessThanOrEqual(840);
  });

  it('lays all modules in one row on a bench screen, in seven columns on a phone', () => {
    expect(layOutPack(profile, 840).perRow).toBe(28);
    expect(layOutPack(profile, 600).perRow).toBe(14);
    expect(layOutPack(profile, 360).perRow).toBe(7);
  });

  it('never draws a row across two bays, however narrow', () => {
    const bays = [
      { name: 'left', from: 1, to: 10 },
      { name: 'middle', from: 11, to: 20 },
      { name: 'right', from: 21, to: 28 },
    ];
    for (const width of [330, 480, 600]) {
      const { slabs, bars } = layOutPack({ ...profile, bays }, width);
      for (const bay of bays) {
        const rows = new Set(slabs.slice(bay.from - 1, bay.to).map((s) => s.row));
        const others = new Set([...slabs.slice(0, bay.from - 1), ...slabs.slice(bay.to)].map((s) => s.row));
        expect([...rows].filter((r) => others.has(r))).toEqual([]);
      }
      expect(Math.max(...slabs.map((s) => s.x + s.width))).toBeLessThanOrEqual(width + 0.01);
      expect(Math.min(...slabs.map((s) => s.x))).toBeGreaterThanOrEqual(0);
      // no two slabs on one spot, and every neighbour beside or under the other
      expect(new Set(slabs.map((s) => `${s.row} ${s.x.toFixed(2)}`)).size).toBe(28);
      expect(bars).toHaveLength(27);
    }
    const wide = layOutPack({ ...profile, bays }, 600).slabs;
    expect(wide[9]?.x).toBeCloseTo(wide[10]?.x ?? 0, 6);
  });

  it('runs every second row back, so that neighbours stay neighbours', () => {
    const { slabs } = layOutPack(profile, 360);
    expect(slabs[6]?.x).toBe(slabs[7]?.x);
    expect(slabs[0]?.x).toBe(slabs[13]?.x);
  });

  it('turns the polarity with each place and puts each bar on the side of the posts it joins', () => {
    const { slabs, bars } = layOutPack(profile, 840);
    expect(slabs.slice(0, 3).map((s) => s.bottomSign)).toEqual(['+', '−', '+']);
    for (const bar of bars) {
      const from = slabs[bar.link - 1];
      expect(bar.side === 'near' ? from?.bottomSign : from?.topSign).toBe('+');
      expect(bar.isPlug).toBe(bar.link === profile.plug.opensLink);
    }
  });

  it('finds the nearest slab for any touch, and a link on the rim alone', () => {
    const layout = layOutPack(profile, 840);
    const third = layout.slabs[2];
    if (!third) throw new Error('no third slab');
    expect(nearestPlace(layout, third.x + third.width / 2, third.y + 60)).toBe(3);
    expect(nearestPlace(layout, -50, 5000)).toBe(1);
    expect(nearestLink(layout, third.x + third.width, third.y + SLAB_HEIGHT + 4)).toBe(3);
    expect(nearestLink(layout, third.x, third.y + SLAB_HEIGHT / 2)).toBeNull();
  });
});

describe('drawLine', () => {
  const point = (stage: TracePoint['stage'], reachableVolt: number, number: number | null): TracePoint => ({
    ...{ stage, reachableVolt, behindVolt: 218, number, cause: { kind: 'plug', isIn: false } },
  });
  const base = { start: { reachableVolt: 0, behindVolt: 218 }, stages: profile.stages, width: 1000, height: 96 };

  it('spaces the acts of a stage evenly within it', () => {
    const shape = drawLine({ ...base, done: [point('open', 218, 1), point('open', 8, 2)], planned: [], present: 'open' });
    // Open is the fourth of ten stages: from 300 to 400, its two acts at thirds
    expect(shape.done).toContain('H333.3V');
    expect(shape.done).toContain('H366.7V');
    expect(shape.peaks).toMatchObject([{ volt: 218 }]);
    expect(shape.marker.x).toBeCloseTo(366.7, 1);
  });

  it('keeps the marker in the present stage where nothing was stated yet', () => {
    expect(drawLine({ ...base, done: [], planned: [point('isolate', 0, null)], present: 'intake' }).marker.x).toBe(50);
  });

  it('draws a whole procedure without a number that is none', () => {
    const state = startState(profile);
    const shape = drawLine({ ...base, ...traceExposure(state, profile), present: 'intake' });
    expect(`${shape.done}${shape.planned}${shape.behind}`).not.toMatch(/NaN|Infinity/);
    expect(shape.markY).toBeGreaterThan(shape.top);
    expect(shape.markY).toBeLessThan(shape.floor);
  });
});
