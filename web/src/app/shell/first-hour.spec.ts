import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { routes } from '../routes.ts';
import { FirstHour, HOUR_STEPS } from './first-hour.ts';
import { FirstHourLine } from './first-hour-line.ts';

beforeEach(() => localStorage.removeItem('estuarine.firstHour'));

/** As after a reload. */
function again(): FirstHour {
  TestBed.resetTestingModule();
  return TestBed.inject(FirstHour);
}

describe('the first hour', () => {
  it('is ten short steps to screens that there are', () => {
    expect(HOUR_STEPS).toHaveLength(10);
    const first = new Set(routes.map((r) => r.path?.split('/')[0]));
    for (const { path, text } of HOUR_STEPS) {
      expect(first.has(path.split('/')[1])).toBe(true);
      expect(text.length).toBeLessThan(130);
    }
  });

  it('is offered once, goes on where it was left, and ends with the last step', () => {
    const hour = TestBed.inject(FirstHour);
    expect([hour.isOffered(), hour.at()]).toEqual([true, null]);
    hour.go(0);
    hour.go(3);
    expect([again().at(), again().isOffered()]).toEqual([3, false]);
    const later = again();
    later.go(HOUR_STEPS.length);
    expect([later.at(), again().isOffered(), again().at()]).toEqual([null, false, null]);
  });

  it('never comes again once it was sent away', async () => {
    TestBed.configureTestingModule({ providers: [provideRouter([])] });
    TestBed.inject(FirstHour).go(2);
    const fixture = TestBed.createComponent(FirstHourLine);
    await fixture.whenStable();
    const buttons = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')];
    expect((fixture.nativeElement as HTMLElement).textContent).toContain('3 of 10');
    buttons.find((b) => b.textContent.trim() === 'Never again')?.click();
    expect(again().isOffered()).toBe(false);
    expect(again().at()).toBeNull();
  });
});
