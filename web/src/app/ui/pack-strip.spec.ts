import { TestBed } from '@angular/core/testing';
import { PackStrip, type StripPlace } from './pack-strip.ts';

async function strip(places: StripPlace[], selected: number | null = null) {
  const fixture = TestBed.createComponent(PackStrip);
  for (const [name, value] of Object.entries({ places, selected, label: 'The pack' })) fixture.componentRef.setInput(name, value);
  const picked: number[] = [];
  fixture.componentInstance.pickPlace.subscribe((p) => picked.push(p));
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  element.getBoundingClientRect = () => new DOMRect(100, 0, 280, 48);
  const tap = (clientX: number): void => {
    element.dispatchEvent(Object.assign(new Event('pointerup'), { clientX, clientY: 20 }));
  };
  return { element, picked, tap };
}
const PLACES = Array.from({ length: 28 }, (_, i): StripPlace => ({
  place: i + 1,
  verdict: i === 3 ? 'reject' : 'keep',
  text: i < 5 ? '7.8' : '',
}));

describe('the pack in one low row', () => {
  it('has every place, marks those that were read, and shows the one that is asked for', async () => {
    const { element } = await strip(PLACES, 6);
    expect(element.querySelectorAll('rect')).toHaveLength(28);
    expect(element.querySelectorAll('.mark path')).toHaveLength(5);
    expect([...element.querySelectorAll('rect')].findIndex((r) => r.classList.contains('is-selected'))).toBe(5);
  });

  it('picks the nearest place, also beyond its ends', async () => {
    const { picked, tap } = await strip(PLACES);
    for (const x of [101, 109, 111, 379, 380, 500, 0]) tap(x);
    expect(picked).toEqual([1, 1, 2, 28, 28, 28, 1]);
  });
});
