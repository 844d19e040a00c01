import { TestBed } from '@angular/core/testing';
import { balanceLedger, listPlaces, type Movement } from '@estuarine/core';
import { testProfile } from '../../../test/profile.ts';
import type { Move } from './part-card.ts';
import { PartList } from './part-list.ts';
import { PartSweep } from './part-sweep.ts';

const profile = testProfile();
const IN = { kind: 'inPlace' } as const;

/** @param isLate what is pressed is counted only once another place is shown */
async function list(from: string, { isLate = false } = {}) {
  let placeId = from;
  let isCounted = !isLate;
  const moves: Move[] = [];
  const movements = (): Movement[] => moves.map((m, i) => ({ ...m, number: i + 1 }));
  const fixture = TestBed.createComponent(PartList);
  document.body.append(fixture.nativeElement as HTMLElement);
  const draw = async (): Promise<void> => {
    const balance = balanceLedger(profile.parts, isCounted ? movements() : []);
    const place = listPlaces([...profile.zones, ...profile.layers], balance).find((p) => p.place.id === placeId);
    fixture.componentRef.setInput('place', place);
    fixture.componentRef.setInput('balance', balance);
    await fixture.whenStable();
  };
  fixture.componentRef.setInput('profile', profile);
  fixture.componentRef.setInput('stage', 'strip');
  fixture.componentInstance.moved.subscribe((m) => moves.push(m));
  let clearings = 0;
  fixture.componentInstance.cleared.subscribe(() => clearings++);
  await draw();
  const element = fixture.nativeElement as HTMLElement;
  const press = async (name: RegExp): Promise<void> => {
    const found = [...element.querySelectorAll('button')].find((b) => name.test(b.getAttribute('aria-label') ?? b.textContent));
    if (!found) throw new Error(`no button ${name}`);
    found.click();
    await draw();
    // the focus moves on once the screen is drawn
    await new Promise((resolve) => setTimeout(resolve));
  };
  const goTo = async (id: string): Promise<void> => {
    placeId = id;
    isCounted = true;
    await draw();
  };
  return { element, moves, press, draw, goTo, cleared: () => clearings, end: () => element.remove() };
}

describe('the groups of a place', () => {
  it('give the focus to the next one: one key a group, and round to those before it', async () => {
    const { element, press, end } = await list('rear-seat');
    const cards = [...element.querySelectorAll('app-part-card')];
    await press(/^Take off \d+ seat bolt/);
    expect(document.activeElement?.closest('app-part-card')?.id).toBe(cards[1]?.id);
    end();
  });

  it('come off together as the profile says, but for those that were unticked', async () => {
    const { moves, element, press, draw, end } = await list('rear-seat');
    await press(/^All but some/);
    const sweep = element.querySelector('app-part-sweep');
    const boxes = [...(sweep?.querySelectorAll('input') ?? [])];
    expect(boxes.every((b) => b.checked)).toBe(true);
    boxes[1]?.click();
    await draw();
    await press(/pieces off, as the profile says\s*$/);
    const ids = profile.parts.filter((p) => p.place === 'rear-seat').map((p) => p.id);
    expect(moves.map((m) => m.partId)).toEqual(ids.filter((_, i) => i !== 1));
    expect(moves.every((m) => m.count === profile.parts.find((p) => p.id === m.partId)?.count)).toBe(true);
    // each group lies by itself
    const cells = moves.flatMap((m) => (m.to.kind === 'tray' ? [m.to.cell] : []));
    expect(new Set(cells).size).toBe(cells.length);
    expect(element.querySelector('app-part-sweep')).toBeNull();
    end();
  });

  it('come off with one press, and the next place is asked for', async () => {
    const { moves, press, cleared, end } = await list('rear-seat');
    await press(/off, all as the profile says/);
    expect(moves.map((m) => m.partId)).toEqual(profile.parts.filter((p) => p.place === 'rear-seat').map((p) => p.id));
    expect(cleared()).toBe(1);
    end();
  });

  it('of a place that is done with can be looked at again', async () => {
    const { press, goTo, cleared, end } = await list('rear-seat');
    await press(/off, all as the profile says/);
    await goTo('boot');
    await goTo('rear-seat');
    expect(cleared()).toBe(1);
    end();
  });

  it('do not lead away from a place that was left before its last piece was counted', async () => {
    const { press, goTo, cleared, end } = await list('rear-seat', { isLate: true });
    await press(/off, all as the profile says/);
    await goTo('boot');
    await goTo('rear-seat');
    expect(cleared()).toBe(0);
    end();
  });

  it('that somebody else cleared lead nowhere by themselves', async () => {
    const { moves, draw, cleared, end } = await list('rear-seat');
    for (const { id, count } of profile.parts.filter((p) => p.place === 'rear-seat'))
      moves.push({ partId: id, count: count ?? 1, from: IN, to: { kind: 'stud' }, condition: 'good' });
    await draw();
    expect(cleared()).toBe(0);
    end();
  });

  it('say before they are touched what they are mistaken for', async () => {
    const { element, end } = await list('rear-seat');
    expect(element.querySelector('#part-belt-bolt')?.textContent).toContain('Looks like a seat bolt');
    end();
  });
});

describe('the sheet of a whole place', () => {
  it('never ticks what bares or parts something, nor what comes after it', async () => {
    const fixture = TestBed.createComponent(PartSweep);
    const balance = balanceLedger(profile.parts, []);
    const hazard = profile.parts.findIndex((p) => p.effects.length > 0);
    fixture.componentRef.setInput('parts', balance.parts);
    await fixture.whenStable();
    const boxes = [...(fixture.nativeElement as HTMLElement).querySelectorAll('input')];
    expect(boxes).toHaveLength(balance.parts.length);
    expect(boxes.slice(hazard).some((b) => b.checked || !b.disabled)).toBe(false);
    expect(boxes[0]?.checked).toBe(true);
  });

  it('cannot be kept while nothing is ticked', async () => {
    const fixture = TestBed.createComponent(PartSweep);
    const taken: ReadonlySet<string>[] = [];
    fixture.componentInstance.taken.subscribe((t) => taken.push(t));
    fixture.componentRef.setInput('parts', balanceLedger(profile.parts, []).parts.slice(0, 1));
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    element.querySelector('input')?.click();
    await fixture.whenStable();
    const keep = element.querySelector<HTMLButtonElement>('.ant-btn-primary');
    expect(keep?.disabled).toBe(true);
    expect(keep?.textContent).toContain('0 pieces');
    expect(taken).toEqual([]);
  });
});

it('a piece put back does not move the focus away', async () => {
  const { moves, element, press, end } = await list('rear-seat');
  await press(/^Take off \d+ seat bolt/);
  const before = document.activeElement;
  await press(/^Put back \d+ seat bolt/);
  expect(moves.at(-1)).toMatchObject({ to: IN });
  expect(document.activeElement).toBe(before);
  expect(element.isConnected).toBe(true);
  end();
});
