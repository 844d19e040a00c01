import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { BarsReadied, BarsReady } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { ChoiceField, choicesOf } from '../../ui/choice-field.ts';

type Plating = NonNullable<BarsReadied['plating']>;
const PLATING_NAMES: Record<Plating, string> = { whole: 'whole', thin: 'thin in places', gone: 'gone' };

/** Bars before they go on: new, or cleaned, dry and looked at again; all alike, or frame by frame. */
@Component({
  selector: 'app-bars-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NzButtonModule],
  template: `
    <ul>
      @for (set of sets(); track set.name) {
        <li [class.is-bad]="set.fault !== null">
          <b>{{ set.name }}</b>
          <span>{{ say(set) }}</span>
          @if (set.fault; as fault) {
            <em>{{ fault }}</em>
          }
        </li>
      }
    </ul>
    @if (frames().length > 1) {
      <app-choice-field label="Which" [choices]="frames()" [(value)]="frame" />
    }
    <div class="pair">
      <app-choice-field label="Changed" [choices]="ways" [(value)]="way" />
      <app-choice-field label="Their nuts" [choices]="nutsChoices" [(value)]="nuts" />
    </div>
    <button nz-button nzType="primary" type="button" class="tall" (click)="keep('new', null)">They are new</button>
    <fieldset>
      <legend>Or cleaned: mild acid, rinsed, dried, looked at again</legend>
      <app-choice-field label="Plating left" [choices]="platings" [(value)]="plating" />
      <div class="row">
        <button nz-button type="button" (click)="keep('cleaned', true)">Cleaned and dry</button>
        <button nz-button type="button" (click)="keep('cleaned', false)">Cleaned, still wet</button>
      </div>
    </fieldset>
    <p class="muted">
      The full set is renewed, not only at the blocks that a code named; some suppliers make new bars a condition of their warranty.
    </p>
  `,
  styles: `
    :host,
    fieldset {
      display: grid;
      gap: 10px;
    }
    fieldset {
      margin: 0;
      padding: 8px 12px 12px;
      border: 1px solid var(--edge);
      border-radius: 3px;
    }
    legend {
      width: auto;
      margin: 0;
      padding: 0 4px;
      font-size: 16px;
      border: 0;
    }
    ul {
      display: grid;
      gap: 6px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 0 10px;
      padding: 4px 12px;
      border-left: 4px solid var(--edge);
    }
    .is-bad {
      border-color: var(--madder);
    }
    em {
      grid-column: 1 / -1;
      font-style: normal;
      font-weight: 600;
    }
    .tall {
      min-height: 56px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      gap: 8px;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
    }
    .row button {
      min-height: 48px;
    }
  `,
})
export class BarsPanel {
  readonly sets = input.required<readonly BarsReady[]>();

  readonly #log = inject(JobLog);
  protected readonly frame = signal('');
  protected readonly way = signal<'frame' | 'singly'>('frame');
  protected readonly nuts = signal<'new' | 'old'>('new');
  protected readonly plating = signal<Plating>('whole');
  protected readonly ways = choicesOf({ frame: 'in their frame', singly: 'one by one' });
  protected readonly nutsChoices = choicesOf({ new: 'new', old: 'the old ones' });
  protected readonly platings = choicesOf(PLATING_NAMES);
  protected readonly frames = computed(() => {
    const own = this.sets().flatMap((s) => (s.frame === null ? [] : [{ value: s.frame, name: s.name }]));
    return own.length > 0 ? [{ value: '', name: 'all of them' }, ...own] : [];
  });

  protected say({ word }: BarsReady): string {
    if (!word) return 'not said yet';
    const how = word.how === 'new' ? 'new' : `cleaned, ${word.isDry ? 'dry' : 'wet'}, plating ${PLATING_NAMES[word.plating ?? 'whole']}`;
    return `${how}${word.isInFrame ? '' : ', one by one'}${word.haveNewNuts ? ', new nuts' : ', old nuts'}`;
  }

  protected keep(how: 'new' | 'cleaned', isDry: boolean | null): void {
    const plating = how === 'new' ? null : this.plating();
    const frame = this.frame() === '' ? null : this.frame();
    void this.#log.act({
      type: 'bars.readied',
      body: { frame, how, isInFrame: this.way() === 'frame', isDry, plating, haveNewNuts: this.nuts() === 'new' },
    });
  }
}
