import { Directive, inject, output, signal } from '@angular/core';
import { DOCUMENT } from '@angular/common';

/** A table dropped on or pasted into whatever carries this: a file, or rows copied from another program. */
@Directive({
  selector: '[appTableDrop]',
  host: {
    '(dragover)': 'allow($event)',
    '(dragleave)': 'isOver.set(false)',
    '(drop)': 'drop($event)',
    '(document:paste)': 'paste($event)',
    '[class.is-drop]': 'isOver()',
  },
})
export class TableDrop {
  readonly appTableDrop = output<File>();

  readonly #document = inject(DOCUMENT);
  protected readonly isOver = signal(false);

  protected allow(event: DragEvent): void {
    if (!event.dataTransfer || ![...event.dataTransfer.types].some((t) => t === 'Files' || t === 'text/plain')) return;
    event.preventDefault();
    this.isOver.set(true);
  }

  protected drop(event: DragEvent): void {
    this.isOver.set(false);
    const [file] = event.dataTransfer?.files ?? [];
    const table = file ?? asTable(event.dataTransfer?.getData('text/plain') ?? '');
    if (!table) return;
    event.preventDefault();
    this.appTableDrop.emit(table);
  }

  protected paste(event: ClipboardEvent): void {
    // a dialog takes its own; one value into a field is no table
    if (this.#document.querySelector('.ant-modal')) return;
    const [file] = event.clipboardData?.files ?? [];
    const table = file && !file.type.startsWith('image/') ? file : asTable(event.clipboardData?.getData('text/plain') ?? '');
    if (!table) return;
    event.preventDefault();
    this.appTableDrop.emit(table);
  }
}

/** Rows of more than one cell, as a file; null for anything else. */
function asTable(text: string): File | null {
  const rows = text.split(/\r\n|\n|\r/).filter((line) => line.trim() !== '');
  return rows.filter((line) => /[\t;,|]/.test(line)).length > 1 ? new File([text], 'pasted-table.txt') : null;
}
