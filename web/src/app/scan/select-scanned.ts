import { DestroyRef, effect, inject } from '@angular/core';
import { Scanner } from './scanner.ts';

/**
 * Lets the screen that calls this, in its injection context, select scanned modules: those scanned while it is shown, and one that a
 * scan elsewhere led here for. `find` selects the module and gives whether the screen has it.
 */
export function selectScanned(find: (moduleId: string) => boolean): void {
  const scanner = inject(Scanner);
  inject(DestroyRef).onDestroy(scanner.hold(find));
  effect(() => {
    const moduleId = scanner.awaited();
    if (moduleId !== null && find(moduleId)) scanner.settle();
  });
}
