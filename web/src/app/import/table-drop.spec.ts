import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TableDrop } from './table-drop.ts';

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TableDrop],
  template: `<div (appTableDrop)="taken.set($event)"></div>`,
})
class Bench {
  readonly taken = signal<File | null>(null);
}

async function bench() {
  const fixture = TestBed.createComponent(Bench);
  await fixture.whenStable();
  const place = (fixture.nativeElement as HTMLElement).querySelector('div');
  if (!place) throw new Error('no place');
  const send = (type: 'paste' | 'drop', text: string, files: File[] = []) => {
    const event = new Event(type, { bubbles: true, cancelable: true });
    const data = { files, types: ['text/plain'], getData: () => text };
    Object.assign(event, { clipboardData: data, dataTransfer: data });
    place.dispatchEvent(event);
    return event.defaultPrevented;
  };
  return { send, taken: () => fixture.componentInstance.taken() };
}

describe('a table brought in from elsewhere', () => {
  it('is taken where rows of cells are pasted, whole and as they were', async () => {
    const { send, taken } = await bench();
    expect(send('paste', 'module\tV\n1\t7.81\n2\t7.82\n')).toBe(true);
    expect(taken()?.name).toBe('pasted-table.txt');
    expect(taken()?.size).toBe('module\tV\n1\t7.81\n2\t7.82\n'.length);
  });

  it('is no table where one value or a sentence is pasted: a field keeps it', async () => {
    const { send, taken } = await bench();
    for (const text of ['7.812', 'hot, on the hill', 'two\nlines', '']) expect(send('paste', text)).toBe(false);
    expect(taken()).toBeNull();
  });

  it('is a file that is dropped, whatever it is called', async () => {
    const { send, taken } = await bench();
    const file = new File(['1;2'], 'bench.csv');
    expect(send('drop', '', [file])).toBe(true);
    expect(taken()).toBe(file);
  });
});
