import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, signal, viewChild } from '@angular/core';
import { FINDING_WORDS, type ActBody, type Photo, type Pin, type Stage } from '@estuarine/core';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { JobLog } from '../../transport/job-log.ts';
import { Session } from '../../session/session.ts';
import { FindingForm } from './finding-form.ts';
import { PhotoDesk } from '../../transport/photo-desk.ts';
import { injectPhotoTaking } from './photo-taking.ts';

/** Photographs of a job: from the camera or from files, small in a list, large with pins, before and after side by side. */
@Component({
  selector: 'app-photo-board',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, NzButtonModule, FindingForm],
  templateUrl: './photo-board.html',
  styleUrl: './photo-board.less',
})
export class PhotoBoard {
  readonly stage = input.required<Stage>();

  protected readonly log = inject(JobLog);
  protected readonly desk = inject(PhotoDesk);
  readonly #take = injectPhotoTaking();
  readonly #session = inject(Session);
  private readonly view = viewChild<ElementRef<HTMLElement>>('viewer');

  protected readonly words = FINDING_WORDS;
  protected readonly caption = signal('');
  protected readonly place = signal('');
  protected readonly busy = signal<{ readonly done: number; readonly of: number } | null>(null);
  protected readonly faults = signal<readonly string[]>([]);
  protected readonly shownId = signal<string | null>(null);
  protected readonly pin = signal<Pin | null>(null);
  /** The photograph that the next one is the pair of. */
  protected readonly pairOf = signal<string | null>(null);
  protected readonly reason = signal('');

  protected readonly photos = computed(() => [...(this.log.state()?.finding.photos ?? [])].filter((p) => !p.erased).reverse());
  protected readonly erased = computed(() => (this.log.state()?.finding.photos ?? []).filter((p) => p.erased));
  protected readonly shown = computed(() => this.photos().find((p) => p.photoId === this.shownId()) ?? null);
  protected readonly pair = computed(() => {
    const shown = this.shown();
    if (!shown) return null;
    return this.photos().find((p) => p.photoId === shown.pairOf || p.pairOf === shown.photoId) ?? null;
  });
  protected readonly pins = computed(() =>
    (this.log.state()?.finding.findings ?? []).flatMap((f) =>
      f.pin.on === 'photo' && f.pin.photoId === this.shownId()
        ? [{ ...f.pin, id: f.findingId, text: FINDING_WORDS[f.kind], note: f.note }]
        : [],
    ),
  );
  protected readonly places = computed(() => {
    const profile = this.log.profile();
    const air = (profile?.airPath ?? []).map(({ name }, i) => ({ id: `air-${i + 1}`, name }));
    return [...(profile?.zones ?? []), ...(profile?.layers ?? []), ...air];
  });
  protected readonly waiting = computed(() => new Set(this.desk.waiting().map((p) => p.photoId)));
  protected readonly mayErase = computed(() => {
    const [person, shown] = [this.#session.person(), this.shown()];
    return person !== null && shown !== null && (person.role === 'lead' || person.id === shown.by);
  });

  /** One after the other, so that a hundred do not fill the memory. */
  protected async take(box: HTMLInputElement): Promise<void> {
    const files = [...(box.files ?? [])];
    box.value = '';
    const faults: string[] = [];
    for (const [done, file] of files.entries()) {
      this.busy.set({ done, of: files.length });
      const shown = { stage: this.stage(), caption: this.caption().trim(), place: this.place() || null, pairOf: this.pairOf() };
      const fault = await this.#take(file, shown);
      if (fault !== null) faults.push(`${file.name}: ${fault}`);
    }
    this.busy.set(null);
    this.faults.set(faults);
    this.pairOf.set(null);
    this.caption.set('');
  }

  protected show(photo: Photo): void {
    this.shownId.set(photo.photoId);
    this.pin.set(null);
    setTimeout(() => this.view()?.nativeElement.focus({ preventScroll: true }));
  }

  protected step(by: number): void {
    const photos = this.photos();
    const next = photos[photos.findIndex((p) => p.photoId === this.shownId()) + by];
    if (next) this.show(next);
  }

  protected setPin(event: PointerEvent): void {
    const photoId = this.shownId();
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    if (photoId === null || box.width === 0) return;
    const share = (at: number, from: number, size: number): number =>
      Math.round(Math.min(1, Math.max(0, (at - from) / size)) * 1000) / 1000;
    this.pin.set({ on: 'photo', photoId, x: share(event.clientX, box.left, box.width), y: share(event.clientY, box.top, box.height) });
  }

  /** The same without a pointer: in the middle, then moved by the arrow keys. */
  protected nudge(event: KeyboardEvent): void {
    const by = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, -0.02], ArrowDown: [0, 0.02] }[event.key];
    const pin = this.pin();
    if (!by || pin?.on !== 'photo') return;
    event.preventDefault();
    const within = (v: number): number => Math.round(Math.min(1, Math.max(0, v)) * 1000) / 1000;
    this.pin.set({ ...pin, x: within(pin.x + (by[0] ?? 0)), y: within(pin.y + (by[1] ?? 0)) });
  }

  protected pinMiddle(): void {
    const photoId = this.shownId();
    if (photoId !== null) this.pin.set({ on: 'photo', photoId, x: 0.5, y: 0.5 });
  }

  protected note(body: ActBody<'finding.noted'>): void {
    void this.log.act({ type: 'finding.noted', body });
    this.pin.set(null);
  }

  protected erase(): void {
    const photoId = this.shownId();
    if (photoId === null || this.reason().trim().length < 8) return;
    void this.log.act({ type: 'photo.erased', body: { photoId, reason: this.reason().trim() } });
    this.reason.set('');
    this.shownId.set(null);
  }
}
