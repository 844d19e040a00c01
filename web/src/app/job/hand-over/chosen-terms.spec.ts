import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { JobLog } from '../../transport/job-log.ts';
import { KnownAnswers } from '../../transport/known-answers.ts';
import { chosenTerms } from './chosen-terms.ts';

@Component({ selector: 'app-terms-reader', changeDetection: ChangeDetectionStrategy.OnPush, template: '{{ terms()?.supplier ?? "none" }}' })
class TermsReader {
  protected readonly terms = chosenTerms();
}

it('shows the conditions chosen last, though the answer to the first choice comes after that to the second', async () => {
  const answers = new Map<string, (supplier: string) => void>();
  const ask = (path: string): Promise<unknown> =>
    new Promise((resolve) => answers.set(path, (supplier) => resolve({ kind: 'fresh', value: { terms: { supplier } } })));
  const chosen = (...ids: string[]) => ({ handOver: { terms: ids.map((id) => ({ terms: id === '' ? null : { id, version: 1 } })) } });
  const state = signal<unknown>(chosen());
  TestBed.configureTestingModule({
    providers: [
      { provide: JobLog, useValue: { state } },
      { provide: KnownAnswers, useValue: { ask } },
    ],
  });
  const fixture = TestBed.createComponent(TermsReader);
  const text = async (): Promise<string> => {
    await new Promise((resolve) => setTimeout(resolve, 0));
    fixture.detectChanges();
    return (fixture.nativeElement as HTMLElement).textContent;
  };
  expect(await text()).toBe('none');
  state.set(chosen('first'));
  expect(await text()).toBe('none');
  state.set(chosen('first', 'second'));
  expect(await text()).toBe('none');
  answers.get('/api/terms/second/1')?.('Second');
  expect(await text()).toBe('Second');
  answers.get('/api/terms/first/1')?.('First');
  expect(await text()).toBe('Second');
  state.set(chosen('first', 'second', ''));
  expect(await text()).toBe('none');
});
