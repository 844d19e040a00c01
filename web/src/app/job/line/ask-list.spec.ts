import { TestBed } from '@angular/core/testing';
import type { Question, QuestionAnswer } from '@estuarine/core';
import { AskList } from './ask-list.ts';

it('asks what would settle the number, each answer one press, and says what only a meter tells', () => {
  const fact = { type: 'fact.stated', body: { stage: 'open', fact: { kind: 'contactors', are: 'takenOut' } } } as const;
  const questions: Question[] = [
    {
      cause: 'contactors',
      ask: 'Is the relay block off the pack?',
      answers: [{ label: 'Yes, it is off', act: fact }],
      hint: 'Else prove dead there.',
    },
    { cause: 'unmeasured', ask: 'Some modules were not measured.', answers: [], hint: 'Read them at rest.' },
  ];
  const given: QuestionAnswer[] = [];
  const fixture = TestBed.createComponent(AskList);
  fixture.componentRef.setInput('questions', questions);
  fixture.componentInstance.answered.subscribe((answer) => given.push(answer));
  fixture.detectChanges();
  const page = fixture.nativeElement as HTMLElement;
  expect([...page.querySelectorAll('[role=group]')].map((g) => g.getAttribute('aria-label'))).toEqual(questions.map((q) => q.ask));
  expect(page.textContent).toContain('Read them at rest.');
  const buttons = [...page.querySelectorAll('button')];
  expect(buttons.map((b) => b.textContent.trim())).toEqual(['Yes, it is off']);
  buttons[0]?.click();
  expect(given.map((a) => a.act)).toEqual([fact]);
});
