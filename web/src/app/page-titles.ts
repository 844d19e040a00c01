import { inject, Injectable } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { TitleStrategy, type RouterStateSnapshot } from '@angular/router';

/** Each screen names itself in the browser's tab. */
@Injectable()
export class PageTitles extends TitleStrategy {
  readonly #title = inject(Title);

  override updateTitle(snapshot: RouterStateSnapshot): void {
    const title = this.buildTitle(snapshot);
    this.#title.setTitle(title ? `${title} · Estuarine` : 'Estuarine');
  }
}
