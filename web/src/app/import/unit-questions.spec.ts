import { TestBed } from '@angular/core/testing';
import { UnitQuestions } from './unit-questions.ts';

it('asks about each column once, by name of what it holds', async () => {
  const fixture = TestBed.createComponent(UnitQuestions);
  const questions = [
    { figure: 'capacityAh', factor: 1000, sentence: 'Taken in Ah the capacity is far off.' },
    { figure: 'ocvVolt', factor: 0.001, sentence: 'Taken in V the voltage is far off.' },
  ];
  fixture.componentRef.setInput('questions', questions);
  const heard: unknown[] = [];
  fixture.componentInstance.scaled.subscribe((q) => heard.push(['scaled', q.figure]));
  fixture.componentInstance.left.subscribe((q) => heard.push(['left', q.figure]));
  await fixture.whenStable();
  const element = fixture.nativeElement as HTMLElement;
  const buttons = [...element.querySelectorAll('button')];
  expect(buttons.map((b) => b.textContent.trim())).toEqual([
    'Take it 1000 times as large',
    'It is right as it is',
    'Take it 0.001 times as large',
    'It is right as it is',
  ]);
  buttons[0]?.click();
  buttons[3]?.click();
  expect(heard).toEqual([
    ['scaled', 'capacityAh'],
    ['left', 'ocvVolt'],
  ]);
  fixture.componentRef.setInput('questions', []);
  await fixture.whenStable();
  expect(element.textContent.trim()).toBe('');
});
