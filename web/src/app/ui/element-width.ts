import { DestroyRef, ElementRef, inject, signal, type Signal } from '@angular/core';

/** The width of the component's own element in pixels, as it changes; starts with a guess so that something is drawn at once. */
export function watchWidth(guess: number): Signal<number> {
  const element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  const width = signal(guess);
  const observer = new ResizeObserver(([entry]) => {
    if (entry && entry.contentRect.width > 0) width.set(entry.contentRect.width);
  });
  observer.observe(element);
  inject(DestroyRef).onDestroy(() => observer.disconnect());
  return width.asReadonly();
}
