import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  ElementRef,
  inject,
  input,
  model,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { countingReading, isAgainst, type ModuleType, type Reading, type Sweep } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { BenchVoice, VOICE_NAMES } from '../../ui/bench-voice.ts';
import { NumberPad } from '../../ui/number-pad.ts';
import { Shortcuts } from '../../ui/shortcuts.ts';
import { findOpenSlot, listSlots, quantityLabel, readTyped, SWEEP_NAMES, type Slot } from './sweep-walk.ts';

/** Keypad-fast entry of one sweep: value, Enter, next. The hands need not leave the numeric pad. */
@Component({
  selector: 'app-sweep-entry',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule, NumberPad],
  templateUrl: './sweep-entry.html',
  styleUrl: './sweep-entry.less',
})
export class SweepEntry {
  readonly sweep = input.required<Sweep>();
  readonly type = input.required<ModuleType>();
  readonly moduleIds = input.required<readonly string[]>();
  /** What the readings of each place count for, place 1 first. */
  readonly keys = input.required<readonly string[]>();
  /** Place that the drawing shows as selected; picked there or moved here. */
  readonly place = model.required<number>();

  readonly #log = inject(JobLog);
  readonly #voice = inject(BenchVoice);
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');

  /** By value: those asked last come and go as modules come to stand apart. */
  readonly #chosen = signal<Slot | null>(null);
  protected readonly text = signal('');
  protected readonly message = signal<{ readonly text: string; readonly isQuestion: boolean } | null>(null);
  protected readonly hasPad = signal(matchMedia('(pointer: coarse)').matches);
  #confirmed: string | null = null;
  /** By value: the sweep itself is a new object with every reading that comes in, also from others. */
  readonly #sweepId = computed(() => this.sweep().id);

  protected readonly voice = this.#voice.voice;
  protected readonly voiceNames = VOICE_NAMES;
  protected readonly label = quantityLabel;
  protected readonly kinds = SWEEP_NAMES;
  readonly #apart = computed(() =>
    this.#log
      .records()
      .filter((r) => r.reasons.some((reason) => reason.figure === 'loadDropMillivolt' && isAgainst(reason.verdict)))
      .map((r) => r.place),
  );
  protected readonly slots = computed(() => listSlots(this.sweep(), this.moduleIds().length, this.#apart()));
  protected readonly at = computed(() => {
    const chosen = this.#chosen();
    return Math.max(
      0,
      this.slots().findIndex((s) => s.place === chosen?.place && s.quantity === chosen.quantity),
    );
  });
  protected readonly slot = computed((): Slot => this.slots()[this.at()] ?? { place: 1, quantity: 'openCircuitVolt' });
  protected readonly standing = computed(() => this.#reading(this.slot()));
  protected readonly taken = computed(() => this.slots().filter((s) => this.#reading(s)).length);
  protected readonly isWhole = computed(() => this.taken() === this.slots().length);
  protected readonly latest = computed(() => {
    const before = this.slots()
      .slice(Math.max(0, this.at() - 3), this.at())
      .reverse();
    return before.flatMap((s) => {
      const reading = this.#reading(s);
      return reading ? [{ ...s, value: reading.value }] : [];
    });
  });

  constructor() {
    const off = inject(Shortcuts).register({ key: 'v', what: 'silent, tones or voice for readings', run: () => this.#voice.cycle() });
    inject(DestroyRef).onDestroy(off);
    // another sweep: begin at its first open slot
    afterRenderEffect(() => {
      this.#sweepId();
      untracked(() => {
        this.#goTo(findOpenSlot(this.slots(), this.sweep(), this.keys()));
        // a finger's first touch would open the keyboard of the tablet: only where there is a real one
        if (!this.hasPad()) this.focus();
      });
    });
    // a place picked on the drawing
    afterRenderEffect(() => {
      const place = this.place();
      untracked(() => {
        if (this.slot().place !== place) this.#goTo(this.slots().findIndex((s) => s.place === place));
      });
    });
  }

  focus(): void {
    this.field().nativeElement.focus();
  }

  protected onInput(text: string): void {
    this.text.set(text);
    this.message.set(null);
  }

  protected onKey(event: KeyboardEvent): void {
    const isEmpty = this.text() === '';
    if (event.key === 'Enter') void this.enter();
    else if (event.key === 'v' || event.key === 'V') this.cycleVoice();
    else if (event.key === '*') this.skip();
    else if (event.key === 'Backspace' && isEmpty) this.back();
    else if (event.key === 'ArrowDown' || (event.key === 'ArrowRight' && isEmpty)) this.move(1);
    else if (event.key === 'ArrowUp' || (event.key === 'ArrowLeft' && isEmpty)) this.move(-1);
    else return;
    event.preventDefault();
  }

  protected cycleVoice(): void {
    this.#voice.cycle();
  }

  protected onPad(key: string): void {
    if (key === 'back') {
      if (this.text() === '') this.back();
      else this.#setText(this.text().slice(0, -1));
    } else if (key === 'enter') void this.enter();
    else if (key === 'skip') this.skip();
    else this.#setText(this.text() + key);
  }

  protected async enter(): Promise<void> {
    const { place, quantity } = this.slot();
    const text = this.text();
    const typed = readTyped(text, quantity, this.type(), this.#confirmed);
    if (typed.kind === 'nothing') return;
    if (typed.kind === 'refused') {
      this.message.set({ text: typed.reason, isQuestion: false });
      return;
    }
    if (typed.kind === 'ask') {
      this.#confirmed = text;
      this.message.set({ text: typed.question, isQuestion: true });
      return;
    }
    const at = this.at();
    const moduleId = this.#moduleAt(place);
    // on to the next at once; the device's disk follows within milliseconds
    this.#goTo(this.standing() ? Math.min(at + 1, this.slots().length - 1) : findOpenSlot(this.slots(), this.sweep(), this.keys(), at + 1));
    const body = { sweepId: this.sweep().id, place, moduleId, quantity, value: typed.value };
    if ((await this.#log.act({ type: 'reading.taken', body })) !== null) {
      this.#tell(place, typed.value);
      return;
    }
    this.#goTo(at);
    this.#setText(text);
  }

  /** For whoever looks at the meter: what was kept, whether it stands apart, and where the probes go next. */
  #tell(place: number, value: number): void {
    const isApart = this.#log.records()[place - 1]?.reasons.some((r) => isAgainst(r.verdict)) ?? false;
    if (this.isWhole()) this.#voice.tell('done', `${value}. All ${this.slots().length} are taken.`);
    else if (isApart) this.#voice.tell('apart', `${place} stands apart, ${value}. Next ${this.slot().place}.`);
    else this.#voice.tell('kept', `${value}. Next ${this.slot().place}.`);
  }

  protected skip(): void {
    this.move(1);
  }

  /** To the former slot, with its reading selected: typing a new value corrects it. */
  protected back(): void {
    this.move(-1);
    const standing = this.standing();
    if (!standing) return;
    this.#setText(String(standing.value));
    // at once: the next key may come before the screen is drawn again
    this.field().nativeElement.select();
  }

  protected move(by: number): void {
    this.#goTo(Math.min(Math.max(this.at() + by, 0), this.slots().length - 1));
  }

  protected end(): void {
    void this.#log.act({ type: 'sweep.ended', body: { sweepId: this.sweep().id } });
  }

  /** Null: nobody named the module there. */
  #moduleAt(place: number): string | null {
    const id = this.moduleIds()[place - 1] ?? '';
    return id === '' ? null : id;
  }

  #reading({ quantity, place }: Slot): Reading | null {
    return countingReading(this.sweep(), quantity, this.keys()[place - 1] ?? '');
  }

  /** Written into the field at once: keys may come faster than the screen is drawn. */
  #setText(text: string): void {
    this.text.set(text);
    this.message.set(null);
    this.field().nativeElement.value = text;
  }

  #goTo(at: number): void {
    this.#chosen.set(this.slots()[Math.max(0, at)] ?? null);
    this.#setText('');
    this.#confirmed = null;
    this.place.set(this.slot().place);
  }
}
