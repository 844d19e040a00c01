import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  inject,
  output,
  signal,
  viewChild,
} from '@angular/core';
import jsQR from 'jsqr';
import { NzButtonModule } from 'ng-zorro-antd/button';
import { LabelReader } from './label-reader.ts';

const LOOK_MILLISECOND = 180;
const LOOK_WIDTH = 640;

/** The camera looks for a module's code. Pictures stay on the device and are not kept. */
@Component({
  selector: 'app-label-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NzButtonModule],
  template: `
    <div class="sheet" role="dialog" aria-modal="true" aria-label="Read a module’s label" (keydown.escape)="closed.emit()">
      <h2>Read a module’s label</h2>
      @if (fault(); as reason) {
        <p role="alert">{{ reason }}</p>
      } @else {
        <video #video muted playsinline aria-label="Camera"></video>
      }
      <form class="row" (submit)="$event.preventDefault(); type(box)">
        <input #box class="plain figure" aria-label="Number on the label" placeholder="or type the number on the label" />
        <button nz-button type="submit">Select</button>
        <button nz-button type="button" (click)="closed.emit()">Close</button>
      </form>
      @if (labels.fault(); as reason) {
        <p role="alert">{{ reason }}</p>
      }
    </div>
  `,
  styles: `
    :host {
      position: fixed;
      inset: 0;
      z-index: 20;
      display: grid;
      place-items: center;
      padding: 16px;
      background: var(--shadow);
    }
    .sheet {
      display: grid;
      gap: 14px;
      width: min(560px, 100%);
      padding: 20px;
      background: var(--shell);
      border-radius: 6px;
    }
    video {
      width: 100%;
      aspect-ratio: 4 / 3;
      object-fit: cover;
      background: var(--deep);
    }
    input {
      flex: 1;
    }
  `,
})
export class LabelDialog {
  readonly closed = output();
  protected readonly labels = inject(LabelReader);
  protected readonly fault = signal<string | null>(null);
  private readonly video = viewChild<ElementRef<HTMLVideoElement>>('video');
  #stream: MediaStream | null = null;
  #isOver = false;

  constructor() {
    const timer = { id: 0 };
    afterNextRender(() => {
      document.querySelector<HTMLElement>('app-label-dialog input')?.focus();
      void this.#open().then(() => {
        if (!this.#isOver) timer.id = window.setInterval(() => this.#look(), LOOK_MILLISECOND);
      });
    });
    inject(DestroyRef).onDestroy(() => {
      this.#isOver = true;
      clearInterval(timer.id);
      this.#stream?.getTracks().forEach((track) => track.stop());
    });
  }

  protected async type(box: HTMLInputElement): Promise<void> {
    const text = box.value.trim();
    if (text !== '' && (await this.labels.takeId(text))) this.closed.emit();
  }

  async #open(): Promise<void> {
    try {
      this.#stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
    } catch {
      this.fault.set('The camera cannot be used here: none is there, or it was not allowed. Type the number on the label.');
      return;
    }
    const video = this.video()?.nativeElement;
    if (this.#isOver || !video) {
      this.#stream.getTracks().forEach((track) => track.stop());
      return;
    }
    video.srcObject = this.#stream;
    await video.play().catch(() => undefined);
  }

  #look(): void {
    const video = this.video()?.nativeElement;
    if (!video || video.videoWidth === 0) return;
    const width = Math.min(LOOK_WIDTH, video.videoWidth);
    const height = Math.round((video.videoHeight * width) / video.videoWidth);
    const context = new OffscreenCanvas(width, height).getContext('2d');
    if (!context) return;
    context.drawImage(video, 0, 0, width, height);
    const found = jsQR(context.getImageData(0, 0, width, height).data, width, height);
    if (!found) return;
    void this.labels.take(found.data).then((isFound) => {
      if (isFound) this.closed.emit();
    });
  }
}
