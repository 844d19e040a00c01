import { Recorder, shippedProfile, SHIPPED } from '../../../test/job-fixture.ts';
import { fold } from '../frame/fold.ts';
import { orderCuts } from './opening.ts';

const opened = new Recorder().open();
opened.fact('isolate', { kind: 'plug', isIn: false });
opened.fact('open', { kind: 'case', isOpen: true });

describe('the order of cuts', () => {
  it('takes the harness first: while it is in, parting the string lowers nothing', () => {
    const own = shippedProfile('dunlin-28');
    const order = orderCuts(fold(own, opened.events), own);
    expect(order.volt).toBeCloseTo(28 * 9.6, 6);
    expect(order.steps.map((s) => s.label)).toEqual(['unplug the sense harness', 'take off the vent side bus-bar frame']);
    // with the plug out each half of 14 stands alone; one frame leaves pairs
    expect(order.steps.map((s) => Math.round(s.volt * 10) / 10)).toEqual([134.4, 19.2]);
    expect(order.isEnough).toBe(true);
  });

  it.each(SHIPPED)('of %s falls step by step and, taken step by step, needs nothing more', (id) => {
    const own = shippedProfile(id);
    const job = new Recorder();
    job.events.push(...opened.events);
    const first = orderCuts(fold(own, job.events), own);
    const volts = [first.volt, ...first.steps.map((s) => s.volt)];
    expect(volts).toEqual([...volts].sort((a, b) => b - a));
    for (const [i, step] of first.steps.entries()) {
      job.fact('open', step.fact);
      const now = orderCuts(fold(own, job.events), own);
      expect(now.volt).toBeCloseTo(step.volt, 6);
      expect(now.steps.length).toBe(first.steps.length - i - 1);
    }
    if (first.isEnough) expect(volts.at(-1)).toBeLessThan(60);
  });
});
