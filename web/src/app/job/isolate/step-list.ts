import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import {
  KEY_PLACES,
  type Act,
  type Fact,
  type Isolation,
  type PlugKind,
  type PlugWords,
  type Role,
  type StepView,
  type Suggestion,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { GearChoice } from './gear-choice.ts';
import { PlugPicture } from './plug-picture.ts';

/** What a person does with a step: a fact of the vehicle, or another act. */
export type StepAct = { readonly kind: 'fact'; readonly fact: Fact } | { readonly kind: 'act'; readonly act: Act };

/** The steps to dead: what stands, who did it, why it is asked, and how to say that it is done. */
@Component({
  selector: 'app-step-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, GearChoice, PlugPicture],
  templateUrl: './step-list.html',
  styleUrl: './step-list.less',
})
export class StepList {
  readonly steps = input.required<readonly StepView[]>();
  readonly nextId = input.required<string | null>();
  readonly wait = input.required<Isolation['wait']>();
  /** Server time, epoch milliseconds. */
  readonly now = input.required<number>();
  readonly plugKind = input.required<PlugKind>();
  readonly hasParking = input.required<boolean>();
  /** What is said of this pack's plug, lever or switch. */
  readonly plug = input.required<PlugWords>();
  readonly gloves = input.required<readonly Suggestion[]>();
  readonly role = input.required<Role | null>();

  /** Whether the browser can be asked for a notice at the end of the wait. */
  readonly canAskNotice = input(false);

  readonly taken = output<StepAct>();
  readonly noticeAsked = output();

  protected readonly keyPlaces = KEY_PLACES;
  /** A step that was opened by hand; the next one is open by itself. */
  protected readonly openId = signal<string | null>(null);
  protected readonly custody = signal('');
  protected readonly gearId = signal<string | null>(null);
  protected readonly minutes = signal(5);
  protected readonly reason = signal('');

  protected readonly picked = computed(() => this.gearId() ?? this.gloves().find((g) => g.refusal === null)?.gear.gearId ?? '');
  protected readonly pickRefusal = computed(() => this.gloves().find((g) => g.gear.gearId === this.picked())?.refusal ?? null);
  /** Share of the wait that is over, 0 to 1, and the time left as a clock. */
  protected readonly waitLeft = computed(() => {
    const { endsAt, minutes } = this.wait();
    if (endsAt === null) return null;
    const seconds = Math.max(0, Math.ceil((endsAt - this.now()) / 1000));
    return { text: `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`, share: 1 - seconds / (minutes * 60) };
  });

  protected isOpen(step: StepView): boolean {
    return (this.openId() ?? this.nextId()) === step.id;
  }

  protected toggle(step: StepView): void {
    this.openId.set(this.openId() === step.id ? null : step.id);
    this.reason.set('');
  }

  protected stateFact(fact: Fact): void {
    this.taken.emit({ kind: 'fact', fact });
    this.openId.set(null);
    this.custody.set('');
  }

  protected do(act: Act): void {
    this.taken.emit({ kind: 'act', act });
    this.openId.set(null);
    this.reason.set('');
  }

  /** @param place where it is kept; empty where nobody says */
  protected stateKey(place: string): void {
    const custody = place.trim();
    this.stateFact({ kind: 'key', isAway: true, ...(custody === '' ? {} : { custody }) });
  }

  protected statePlug(place: string): void {
    const custody = place.trim();
    this.stateFact({ kind: 'plug', isIn: false, ...(custody === '' ? {} : { custody }) });
  }

  /** Said later: neither key nor plug was touched by it. */
  protected sayCustody(of: 'key' | 'plug'): void {
    this.stateFact({ kind: 'custody', of, custody: this.custody().trim() });
  }

  protected pickGloves(): void {
    this.do({ type: 'gear.picked', body: { use: 'gloves', gearId: this.picked(), isAirTested: true } });
  }

  protected lengthen(): void {
    this.do({ type: 'wait.lengthened', body: { minute: this.minutes(), reason: this.reason().trim() || 'not said' } });
  }

  protected override(step: StepView): void {
    this.do({ type: 'step.overridden', body: { stepId: step.id, reason: this.reason().trim() } });
  }

  /** How to take a step's fact back: it is stated anew, the other way. */
  protected contrary(step: StepView): { readonly label: string; readonly fact: Fact } | null {
    if (step.kind === 'key') return { label: 'The key is back in the car', fact: { kind: 'key', isAway: false } };
    if (step.kind === 'twelveVolt') return { label: 'The 12 V is on again', fact: { kind: 'twelveVolt', isOff: false } };
    if (step.kind === 'plug') return { label: this.plug().isIn, fact: { kind: 'plug', isIn: true, isLatched: true } };
    return null;
  }
}
