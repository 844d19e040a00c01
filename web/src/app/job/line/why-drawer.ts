import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { QuestionAnswer, JobExposure, Profile, Question } from '@estuarine/core';
import { NzDrawerModule } from 'ng-zorro-antd/drawer';
import { sayFact } from '../say-act.ts';
import { AskList } from './ask-list.ts';

/** What the number on the exposure line rests on: modules summed, what is assumed, and the last fact that changed it. */
@Component({
  selector: 'app-why-drawer',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AskList, NzDrawerModule],
  template: `
    <nz-drawer [nzVisible]="true" nzTitle="Why this number" [nzWidth]="width" (nzOnClose)="closed.emit()">
      <ng-container *nzDrawerContent>
        <div role="dialog" aria-label="Why this number">
          <p class="sum figure">
            {{ exposure().reachable.volt.toFixed(2) }} V within reach, {{ exposure().behind.volt.toFixed(2) }} V behind the covers
          </p>
          <ul>
            @for (line of exposure().basis; track line) {
              <li>{{ line }}</li>
            }
            @if (exposure().changedBy; as fact) {
              <li>Last changed by event {{ fact.number }}: {{ say(fact.fact, profile()) }}, said by {{ fact.by.toUpperCase() }}.</li>
            } @else {
              <li>Nothing was stated yet: the pack counts as it came, shut and in its car.</li>
            }
            @if (exposure().next; as next) {
              <li>
                To lower it most: {{ next.label }}. The highest part then stands at <b class="figure">{{ next.volt.toFixed(0) }} V</b>.
                {{ next.note }}
              </li>
            }
            @if (exposure().toLimit; as way) {
              @if (way.possible && (way.acts ?? 0) > 0) {
                <li>{{ way.acts }} {{ way.acts === 1 ? 'act' : 'acts' }} bring every part below 60 V ({{ way.volt.toFixed(1) }} V).</li>
              }
            }
          </ul>
          @if (exposure().excess.length > 0 || cutOff()) {
            <h3>Above what is known</h3>
            <ul>
              @for (part of exposure().excess; track part.cause) {
                <li>
                  <b class="figure">{{ part.volt.toFixed(1) }} V</b> for {{ part.sentence }}
                </li>
              }
              @if (cutOff()) {
                <li>It may be higher: cut off, {{ cutOff() }}. What was done there since, nobody else knows.</li>
              }
            </ul>
          }
          @if (questions().length > 0) {
            <h3>What would settle it</h3>
            <app-ask-list [questions]="questions()" (answered)="answered.emit($event)" />
          }
          @if (exposure().pinVolt; as volt) {
            <p>
              <b class="figure">{{ volt.toFixed(1) }} V</b> lie on the pins of the sense harness: a low-voltage plug with the string's
              voltage.
            </p>
          }
          <h3>Parts of the string</h3>
          <table class="sheet">
            <thead>
              <tr>
                <th scope="col">Modules</th>
                <th scope="col" class="num">V</th>
                <th scope="col" class="num">A if shorted</th>
              </tr>
            </thead>
            <tbody>
              @for (island of exposure().islands; track island.from) {
                <tr>
                  <td class="figure">{{ island.from === island.to ? island.from : island.from + ' to ' + island.to }}</td>
                  <td class="num">{{ island.volt.toFixed(2) }}</td>
                  <td class="num">{{ island.shortCircuitAmpere?.toFixed(0) ?? '?' }}</td>
                </tr>
              }
            </tbody>
          </table>
          <h3>Modules summed</h3>
          <table class="sheet">
            <thead>
              <tr>
                <th scope="col" class="num">Place</th>
                <th scope="col" class="num">V</th>
                <th scope="col">Basis</th>
              </tr>
            </thead>
            <tbody>
              @for (module of summed(); track module.place) {
                <tr>
                  <td class="num">{{ module.place }}</td>
                  <td class="num">{{ module.volt.toFixed(3) }}</td>
                  <td>{{ basisOf(module) }}</td>
                </tr>
              }
            </tbody>
          </table>
        </div>
      </ng-container>
    </nz-drawer>
  `,
  styles: `
    .sum {
      font-size: 18px;
    }
    ul {
      padding-left: 18px;
    }
    h3 {
      margin: 18px 0 6px;
    }
  `,
})
export class WhyDrawer {
  readonly exposure = input.required<JobExposure>();
  readonly profile = input.required<Profile>();
  /** Devices that are cut off, in words. */
  readonly cutOff = input('');
  /** What would settle what stands above the known. */
  readonly questions = input<readonly Question[]>([]);
  readonly answered = output<QuestionAnswer>();
  readonly closed = output();

  protected readonly say = sayFact;

  protected basisOf({ isMeasured, isReversed, isDoubtful, isFallDoubted, isContradicted }: JobExposure['modules'][number]): string {
    const said = isMeasured ? 'measured, never below nominal' : 'assumed at maximum';
    const but = [
      ...(isReversed ? ['reversed'] : []),
      ...(isDoubtful ? ['readings differ'] : []),
      ...(isFallDoubted ? ['a later reading fell too far'] : []),
      ...(isContradicted ? ['more was measured across its run'] : []),
    ];
    return [said, ...but].join(', ');
  }

  protected readonly width = 'min(460px, 100vw)';
  /** The modules between the two posts that make the number; all of them when nothing is within reach. */
  protected readonly summed = computed(() => {
    const { modules, reachable, behind } = this.exposure();
    const posts = reachable.between ?? behind.between;
    const [high, low] = (posts ?? []).map((p) => Number.parseInt(p, 10));
    if (high === undefined || low === undefined) return modules;
    return modules.filter((m) => m.place >= Math.min(high, low) && m.place <= Math.max(high, low));
  });
}
