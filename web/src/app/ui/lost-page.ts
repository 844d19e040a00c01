import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Notice } from './notice.ts';

@Component({
  selector: 'app-lost-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Notice, RouterLink],
  template: `<div class="page">
    <app-notice title="There is no such screen">The address leads nowhere here. <a routerLink="/yard">Go to the yard</a></app-notice>
  </div>`,
})
export class LostPage {}
