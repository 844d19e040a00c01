import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { Notice } from './notice.ts';

/** `seen`: the server is away, and what this device saw last is shown. */
export type ListState = 'loading' | 'fresh' | 'seen' | 'failed';

/** The frame of a page that lists what the shop has: its head, and what is shown while the list is on its way or cannot be had. */
@Component({
  selector: 'app-list-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Notice],
  template: `
    <div class="page">
      <div class="page-head">
        <h1>{{ heading() }}</h1>
        @if (about()) {
          <span class="muted">{{ about() }}</span>
        }
        <ng-content select="[head]" />
      </div>
      @switch (state()) {
        @case ('loading') {
          <p class="muted" role="status">Fetching {{ what() }}…</p>
        }
        @case ('seen') {
          <app-notice title="Not connected" action="Try again" (act)="retry.emit()">
            Below stands what this device saw last of {{ what() }}. It may have changed since.
          </app-notice>
        }
        @case ('failed') {
          <app-notice kind="fault" [title]="'The server cannot be reached for ' + what()" action="Try again" (act)="retry.emit()">
            This device has not seen {{ what() }} before. Nothing is lost.
          </app-notice>
        }
      }
      <ng-content />
    </div>
  `,
  styles: `
    :host {
      display: block;
    }
  `,
})
export class ListPage {
  readonly heading = input.required<string>();
  readonly about = input('');
  /** What is listed, after "fetching": `the jobs`. */
  readonly what = input.required<string>();
  readonly state = input.required<ListState>();
  readonly retry = output();
}
