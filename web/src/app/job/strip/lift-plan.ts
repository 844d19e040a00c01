import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { findPackLift, liftQuestion, type Multipliers } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { ReckonLink } from '../../reckoner/reckon-link.ts';

const WORDS: Record<keyof Multipliers, string> = {
  H: 'reach in front of the ankles',
  V: 'height of the hands',
  D: 'way up or down',
  A: 'turn of the trunk',
  F: 'how often',
  C: 'grip',
};

/** How the pack leaves the vehicle: its mass, by whom or what, the way out, and why one person must not. */
@Component({
  selector: 'app-lift-plan',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, ReckonLink],
  template: `
    @if (log.profile(); as profile) {
      <section>
        <h2>Lift the pack out</h2>
        <p class="mass">
          <b class="figure">{{ profile.massKilogram }} kg</b>
          <span>{{ profile.lift.by === 'hoist' ? 'by hoist' : 'by two people, one of them experienced' }}</span>
        </p>
        <p>{{ profile.lift.path }}</p>
        <ul>
          <li>Held by its frame, never by a cable, a cover or a post.</li>
          <li>Look into the body hole for cables that catch before the pack moves, and once more while it does.</li>
          <li>Where it goes is clear, dry and does not conduct.</li>
        </ul>
        @if (log.state()?.strip?.lift; as plan) {
          <p class="planned">
            <b>Planned</b> by {{ plan.by === 'hoist' ? 'hoist' : 'two people' }}, with {{ plan.with }}.
            {{ plan.isPathClear ? 'The way out was looked at.' : 'The way out was not looked at yet.' }}
            <span class="muted">{{ plan.at | date: 'd MMM HH:mm' }}</span>
          </p>
        }
        <form class="form" (submit)="$event.preventDefault(); plan()">
          <label class="field">
            <span>By</span>
            <select #byBox class="plain" (change)="by.set(byBox.value === 'hoist' ? 'hoist' : 'twoPeople')">
              <option value="twoPeople" [selected]="chosenBy() === 'twoPeople'">two people</option>
              <option value="hoist" [selected]="chosenBy() === 'hoist'">hoist</option>
            </select>
          </label>
          <label class="field">
            <span>{{ chosenBy() === 'hoist' ? 'Which hoist and strap' : 'Who holds the other side' }}</span>
            <input #withBox class="plain" maxlength="120" [value]="with()" (input)="with.set(withBox.value)" />
          </label>
          <label class="check wide">
            <input #pathBox type="checkbox" [checked]="isPathClear()" (change)="isPathClear.set(pathBox.checked)" />
            The way out was looked at: nothing catches
          </label>
          @if (chosenBy() === 'twoPeople' && profile.lift.by === 'hoist') {
            <em class="wide" role="status">The profile asks for a hoist at {{ profile.massKilogram }} kg.</em>
          }
          <div class="row wide">
            <button nz-button type="submit" [disabled]="with().trim() === ''">Keep the lift plan</button>
            @if (!log.state()?.pack?.isOnBench) {
              <button nz-button nzType="primary" type="button" (click)="lifted()">The pack is on the bench</button>
            }
          </div>
        </form>
      </section>
      @if (lift(); as found) {
        <section class="why">
          <h2>Why one person must not</h2>
          <p>
            One person should lift at most <b class="figure">{{ found.recommendedKilogram.toFixed(1) }} kg</b> here. The pack is
            @if (found.liftingIndex !== null) {
              <b class="figure">{{ found.liftingIndex.toFixed(1) }} times</b> that (lifting index).
            } @else {
              beyond what the equation covers at all.
            }
          </p>
          <table class="sheet">
            <tbody>
              <tr>
                <th scope="row">Load constant</th>
                <td class="num">23 kg</td>
              </tr>
              @for (row of multipliers(); track row.key) {
                <tr>
                  <th scope="row">{{ row.key }}, {{ row.words }}</th>
                  <td class="num">× {{ row.value.toFixed(3) }}</td>
                </tr>
              }
            </tbody>
          </table>
          <app-reckon-link calculation="lift.niosh" [question]="question()" />
          <p class="caution">
            Revised NIOSH lifting equation (Waters and others 1993, 1994). It is for one person, standing, with two hands and time: not for
            a lift by two, on the knees, or in a cramped boot. It says why one person must not, never that two may.
          </p>
        </section>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
      gap: 24px 32px;
      padding: 18px 24px 24px;
    }
    section {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: 12px;
      align-content: start;
    }
    .mass {
      display: flex;
      gap: 12px;
      align-items: baseline;
    }
    .mass .figure {
      font-size: 36px;
    }
    ul {
      margin: 0;
      padding-left: 20px;
    }
    .planned {
      padding: 8px 14px;
      background: var(--shell);
      border-left: 4px solid var(--reed);
    }
    .check {
      display: flex;
      gap: 10px;
      align-items: center;
      min-height: 44px;
    }
    @media (max-width: 899px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
        padding: 14px;
      }
    }
  `,
})
export class LiftPlan {
  protected readonly log = inject(JobLog);

  protected readonly by = signal<'twoPeople' | 'hoist' | null>(null);
  protected readonly with = signal('');
  protected readonly isPathClear = signal(false);
  protected readonly chosenBy = computed(() => this.by() ?? this.log.profile()?.lift.by ?? 'twoPeople');
  protected readonly question = computed(() => {
    const profile = this.log.profile();
    return profile && liftQuestion(profile);
  });
  protected readonly lift = computed(() => {
    const profile = this.log.profile();
    return profile ? findPackLift(profile) : null;
  });
  protected readonly multipliers = computed(() => {
    const found = this.lift();
    if (!found) return [];
    return (Object.keys(WORDS) as (keyof Multipliers)[]).map((key) => ({ key, words: WORDS[key], value: found.multipliers[key] }));
  });

  protected plan(): void {
    const who = this.with().trim();
    if (who === '') return;
    void this.log.act({ type: 'lift.planned', body: { by: this.chosenBy(), with: who, isPathClear: this.isPathClear(), note: '' } });
  }

  protected lifted(): void {
    void this.log.stateFact('strip', { kind: 'pack', isOnBench: true });
  }
}
