import { TestBed } from '@angular/core/testing';
import { fitDecay, findDischarge } from '@estuarine/core';
import { plotAnswer } from './answer-plot.ts';
import { AnswerView } from './answer-view.ts';

async function show(value: unknown): Promise<HTMLElement> {
  const fixture = TestBed.createComponent(AnswerView);
  fixture.componentRef.setInput('value', value);
  await fixture.whenStable();
  return fixture.nativeElement as HTMLElement;
}

describe('an answer', () => {
  it('is said with names and units, and no figure where there is none', async () => {
    const element = await show({ tauSecond: 214.43291, isPossible: true, capacityAh: null });
    const said = [...element.querySelectorAll('dt')].map(
      (dt, i) => `${dt.textContent} ${element.querySelectorAll('dd')[i]?.textContent?.trim()}`,
    );
    expect(said).toEqual(['tau 214 s, or 3:34 min', 'is possible yes', 'capacity none']);
  });
  it('is a table for a list of alike things, cut where nobody would read on', async () => {
    const element = await show(Array.from({ length: 230 }, (_, i) => ({ place: i + 1, volt: 7.8 })));
    expect([...element.querySelectorAll('th')].map((th) => th.textContent)).toEqual(['place', 'volt, V']);
    expect(element.querySelectorAll('tbody tr')).toHaveLength(200);
    expect(element.textContent).toContain('and 30 more');
  });
});

describe('the curve of an answer', () => {
  const question = { capacitanceMicrofarad: 1000, resistanceOhm: 300_000, startVolt: 216, limitVolt: 60 };
  it('crosses the limit where the answer says', () => {
    const found = findDischarge(question);
    if (found.kind === 'refused') throw new Error(found.message);
    const plot = plotAnswer('isolate.discharge', question, found.value);
    const curve = plot?.lines[0];
    const after = curve?.x.findIndex((x) => x > found.value.secondsToLimit) ?? 0;
    expect(curve?.y[after - 1]).toBeGreaterThan(60);
    expect(curve?.y[after]).toBeLessThan(60);
  });
  it('shows what was read even where nothing could be fitted', () => {
    const readings = [{ second: 0, volt: 210 }, { second: 60, volt: 209.9 }]; // prettier-ignore
    const found = fitDecay(readings, 30);
    if (found.kind === 'refused') throw new Error(found.message);
    const plot = plotAnswer('isolate.fitDecay', { readings, limitVolt: 30 }, found.value);
    expect(plot?.lines.map((l) => l.kind)).toEqual(['dots', 'dash']);
    expect(plot?.label).toContain('unknown');
  });
  it('is left out where there is none', () => {
    expect(plotAnswer('torque.convert', {}, {})).toBeNull();
  });
});
