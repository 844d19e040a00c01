import { DestroyRef, effect, inject, signal, type ElementRef, type Signal } from '@angular/core';

/** Whether an element has been scrolled out of the screen; false while there is none. Called in an injection context. */
export function watchHasLeft(element: Signal<ElementRef<HTMLElement> | undefined>): Signal<boolean> {
  const hasLeft = signal(false);
  const observer = new IntersectionObserver((entries) => hasLeft.set(!(entries.at(-1)?.isIntersecting ?? true)));
  effect(() => {
    const mark = element()?.nativeElement;
    observer.disconnect();
    if (mark) observer.observe(mark);
    else hasLeft.set(false);
  });
  inject(DestroyRef).onDestroy(() => observer.disconnect());
  return hasLeft.asReadonly();
}
