import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Act, PassedWord } from '@estuarine/core';
import { Session } from '../../session/session.ts';
import { PassedWords } from './passed-words.ts';

const stamp = { number: 2, by: 'om', saidAt: 0, keptAt: 0, device: null };
const word = (commandId: string, of: string, said: { type: string; body: Record<string, unknown> }): PassedWord => ({
  ...{ number: 2, by: 'ts', at: '2026-05-04T08:05:00.000Z', of, facts: [], stamp },
  said: { commandId, deviceAt: '2026-05-04T08:00:00.000Z', device: { id: 'd', isClockSure: true, turn: 1 }, version: 1, ...said },
});
const plug = { type: 'fact.stated', body: { stage: 'isolate', fact: { kind: 'plug', isIn: false } } };
const WORDS = [word('a', 'om', plug), word('b', 'om', { type: 'sweep.ended', body: { sweepId: 's' } })];

function show(me: { id: string; role: string }, words: readonly PassedWord[] = WORDS) {
  TestBed.configureTestingModule({ providers: [{ provide: Session, useValue: { person: signal(me) } }] });
  const shown = TestBed.createComponent(PassedWords);
  shown.componentRef.setInput('words', words);
  shown.componentRef.setInput('profile', { plug: { name: 'service plug' } });
  const given: Act[] = [];
  shown.componentInstance.answered.subscribe((act) => given.push(act));
  shown.detectChanges();
  const element = shown.nativeElement as HTMLElement;
  const press = (label: string): void => [...element.querySelectorAll('button')].find((b) => b.textContent.trim() === label)?.click();
  return { element, given, press, labels: () => [...element.querySelectorAll('button')].map((b) => b.textContent.trim()) };
}

it('names both, what was said, and asks its author for an answer: for all of it, or each', () => {
  const { element, given, press, labels } = show({ id: 'om', role: 'technician' });
  expect(element.textContent).toContain('Passed on for OM, unproven.');
  expect(element.textContent).toContain('by way of TS');
  expect(element.textContent).toContain('plug');
  expect(element.textContent).toContain('the end of a sweep');
  expect(labels()).toEqual(['It is so', 'Not so', 'It is so', 'Not so', 'All of it is so', 'None of it is so']);
  press('It is so');
  press('All of it is so');
  press('None of it is so');
  expect(given.map((act) => act.body)).toEqual([
    { commandIds: ['a'], areSo: true },
    { commandIds: ['a', 'b'], areSo: true },
    { commandIds: ['a', 'b'], areSo: false },
  ]);
});

it('asks once where there is one word', () => {
  expect(show({ id: 'om', role: 'technician' }, WORDS.slice(0, 1)).labels()).toEqual(['It is so', 'Not so']);
});

it('lets nobody else answer; the lead sets aside', () => {
  const other = show({ id: 'ts', role: 'technician' });
  expect(other.labels()).toEqual([]);
  expect(other.element.textContent).toContain('until OM answers');
  TestBed.resetTestingModule();
  const { given, press } = show({ id: 'mk', role: 'lead' });
  press('Set aside: OM will not answer');
  expect(given.map((act) => act.body)).toEqual([{ commandIds: ['a', 'b'], areSo: false }]);
});

it('folds many away, and the answers with them: nobody answers for what they do not see', () => {
  const many = Array.from({ length: 3 }, (_, i) => word(`w${i}`, 'om', plug));
  const folded = show({ id: 'om', role: 'technician' }, many).element.querySelector('details');
  expect(folded?.open).toBe(false);
  expect(folded?.querySelectorAll('button')).toHaveLength(8);
  TestBed.resetTestingModule();
  expect(show({ id: 'om', role: 'technician' }).element.querySelector('details')?.open).toBe(true);
});

it('answers for many in as many acts as it takes', () => {
  const many = Array.from({ length: 230 }, (_, i) => word(`w${i}`, 'om', plug));
  const { given, press } = show({ id: 'om', role: 'technician' }, many);
  press('All of it is so');
  expect(given.map((act) => (act.body as { commandIds: string[] }).commandIds.length)).toEqual([100, 100, 30]);
});
