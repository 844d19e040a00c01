import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import {
  countUndoing,
  findHomes,
  listPlaces,
  showTorque,
  type Fact,
  type Refit,
  type RefitCheck,
  type TightenGroup,
} from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { TextField } from '../../ui/text-field.ts';
import { YesNoRows } from '../../ui/yes-no-rows.ts';
import { FactChoices } from '../physical/fact-choices.ts';
import { listFactRows } from '../physical/fact-rows.ts';
import { recallForJob } from '../strip/memory.ts';
import { PlaceBench } from '../strip/place-bench.ts';

const CHECK_NAMES: Record<RefitCheck, string> = {
  cablesHeld: 'HV cables at their own posts, pulled on',
  harnessSeen: 'Low-voltage plugs home, interlock seen',
  restTold: 'What is left over',
};
/** What is stated on the way back beside the counts. */
const HERE = ['pack', 'connectors'];

/** Piece by piece back into the car: what was cleared last goes back first, each group with its torque; a piece that is left over finds its home. */
@Component({
  selector: 'app-way-back',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FactChoices, NzButtonModule, PlaceBench, RouterLink, TextField, YesNoRows],
  templateUrl: './way-back.html',
  styleUrl: './way-back.less',
})
export class WayBack {
  readonly refit = input.required<Refit>();

  protected readonly log = inject(JobLog);
  readonly #memory = recallForJob();
  protected readonly show = showTorque;
  protected readonly openPart = signal<string | null>(null);
  protected readonly size = signal('');
  protected readonly words = signal('');
  protected readonly rest = signal('');
  protected readonly fault = signal('');

  /** In the order in which they go back. */
  protected readonly places = computed(() => {
    const [ledger, profile] = [this.log.ledger(), this.log.profile()];
    return ledger && profile ? listPlaces(profile.zones, ledger).reverse() : [];
  });
  /** The zone of what is next; null where that is about none. */
  readonly #nextPlace = computed(() => {
    const place = this.refit().next?.place ?? null;
    return this.places().some((z) => z.place.id === place) ? place : null;
  });
  /** Goes on to the zone of what is next; stays where it is, or where somebody went by hand, while that is about none. */
  protected readonly placeId = linkedSignal<string | null, string>({
    source: this.#nextPlace,
    computation: (next, before) => next ?? before?.value ?? untracked(() => this.#firstOwed()),
  });
  protected readonly place = computed(() => this.places().find((p) => p.place.id === this.placeId()) ?? null);
  protected readonly rows = computed(() => {
    const [state, profile] = [this.log.state(), this.log.profile()];
    return state && profile ? listFactRows(state.pack, profile).filter((r) => HERE.includes(r.key)) : [];
  });
  /** Of the place that is shown. */
  protected readonly groups = computed(() => this.refit().groups.filter((g) => g.part.place === this.placeId()));
  protected readonly checks = computed(() => this.refit().checks.map((c) => ({ ...c, name: CHECK_NAMES[c.check] })));
  protected readonly transfers = computed(() => this.refit().steps.find((s) => s.id === 'transfers') ?? null);
  readonly #order = computed(() => this.log.profile()?.zones.map((z) => z.id) ?? []);
  /** What comes off again for a piece that is owed where all around it is back. */
  protected readonly undoing = computed(() => {
    const ledger = this.log.ledger();
    if (!ledger) return [];
    return [...this.refit().missingForWake, ...this.refit().missingForDrive, ...this.refit().trim].flatMap((b) => {
      const pieces = countUndoing(b, ledger, this.#order());
      const isLate = this.places().some(
        (p) => this.#order().indexOf(p.place.id) < this.#order().indexOf(b.part.place) && p.out > 0 && p.owed === 0,
      );
      return pieces > 0 && isLate ? [{ name: `${b.owed} × ${b.part.name}`, pieces }] : [];
    });
  });
  protected readonly homes = computed(() => {
    const ledger = this.log.ledger();
    const isAsked = this.size().trim() !== '' || this.words().trim() !== '';
    return ledger && isAsked
      ? findHomes({ size: this.size(), words: this.words() }, ledger, this.#order(), this.#memory()?.proposed ?? []).slice(0, 4)
      : [];
  });

  #firstOwed(): string {
    const zones = this.places();
    return (zones.find((z) => z.owed > 0) ?? zones[0])?.place.id ?? '';
  }

  protected state(fact: Fact): void {
    void this.log.stateFact('refit', fact);
  }

  protected tighten({ part }: TightenGroup): void {
    if (part.torque) void this.log.act({ type: 'group.tightened', body: { partId: part.id, newtonMetre: part.torque.newtonMetre } });
  }

  protected check(said: { readonly check: RefitCheck; readonly isGood: boolean }): void {
    void this.log.act({ type: 'refit.checked', body: { ...said, note: '' } });
  }

  /** What is left over and belongs nowhere is told once, with words. */
  protected tellRest(): void {
    const note = this.rest().trim();
    this.fault.set(note.length < 8 ? 'Say what is left over, and why it stays out.' : '');
    if (note.length < 8) return;
    void this.log.act({ type: 'refit.checked', body: { check: 'restTold', isGood: true, note } });
    this.rest.set('');
  }
}
