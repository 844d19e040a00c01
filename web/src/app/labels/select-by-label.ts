import { DestroyRef, effect, inject } from '@angular/core';
import { LabelReader } from './label-reader.ts';

/**
 * Lets the screen that calls this, in its injection context, select modules by their labels: those read while it is shown, and one that a
 * label read elsewhere led here for. `find` selects the module and gives whether the screen has it.
 */
export function selectByLabel(find: (moduleId: string) => boolean): void {
  const labels = inject(LabelReader);
  inject(DestroyRef).onDestroy(labels.hold(find));
  effect(() => {
    const moduleId = labels.awaited();
    if (moduleId !== null && find(moduleId)) labels.settle();
  });
}
