import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { photoAnswerSchema, problemCode } from '@estuarine/contract';
import { Session } from '../session/session.ts';
import { Api } from './api.ts';
import { Carrier, isLater, NotNow } from './carrier.ts';
import { Link } from './link.ts';
import { DeviceStore, type WaitingPhoto } from './store.ts';
import { Tabs } from './tabs.ts';

/** A picture that has gone is still shown by its old address while others are told. */
const SHOWN_MILLISECOND = 5000;
/** Not taken, but perhaps later: its job may come yet, or the server may be mended. */
const MAY_COME = new Set([404, 500]);

/**
 * Photographs on their way: on this device's disk until the server has the picture, or has kept that it was erased. They are carried by the
 * leading tab like acts, beside them: no word of what is bare waits for a picture. The act that tells of one goes by the outbox; whichever
 * arrives first, the other finds it by its id. One that is not taken holds up no other.
 */
@Injectable({ providedIn: 'root' })
export class PhotoDesk {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #link = inject(Link);
  readonly #session = inject(Session);
  readonly #waiting = signal<readonly WaitingPhoto[]>([]);
  readonly #faults = signal<ReadonlyMap<string, string>>(new Map());
  /** Not taken so far, and offered again when the stream begins anew. */
  readonly #mayCome = new Set<string>();
  readonly #tabs = inject(Tabs);
  readonly #isLeading = signal(false);
  readonly #canSend = computed(
    () => this.#isLeading() && this.#link.isLive() && this.#session.person() !== null && !this.#session.isLocked(),
  );
  readonly #carrier = new Carrier(() => this.#round());

  /** Pictures that the server does not have yet, oldest first. */
  readonly waiting = this.#waiting.asReadonly();
  /** Why a picture was not taken by the server, by id. */
  readonly faults = this.#faults.asReadonly();
  readonly #urls = new Map<string, string>();

  constructor() {
    void this.#load();
    this.#tabs.whenLeading(() => this.#isLeading.set(true));
    this.#tabs.messages$.subscribe((message) => {
      if (message.kind === 'photos') this.#change(message.put, message.gone, message.faults);
      if (message.kind !== 'kept') return;
      for (const { act } of message.acts)
        if (act.sent.act.type === 'photo.erased') void this.#forget(String(act.sent.act.body.photoId));
        // the job that its pictures wait for is there now
        else if (act.sent.act.type === 'job.opened') this.#offerAgain();
    });
    this.#link.behind$.subscribe(() => this.#offerAgain());
    effect(() => {
      if (this.#canSend()) untracked(() => this.#carrier.wantAnew());
    });
  }

  /** Puts a picture on the device; gives false where its disk is full. */
  async put(photo: WaitingPhoto): Promise<boolean> {
    try {
      await this.#store.savePhoto(photo);
    } catch {
      return false;
    }
    this.#tabs.tell({ kind: 'photos', put: [photo], gone: [], faults: [] });
    return true;
  }

  /** Address of a picture: on this device while it waits, else on the server. */
  address(jobId: string, photoId: string, size: 'picture' | 'small'): string {
    const waits = this.#waiting().find((p) => p.photoId === photoId);
    if (!waits) return `/api/jobs/${encodeURIComponent(jobId)}/photos/${encodeURIComponent(photoId)}?size=${size}`;
    const known = this.#urls.get(photoId);
    if (known !== undefined) return known;
    const url = URL.createObjectURL(waits.picture);
    this.#urls.set(photoId, url);
    return url;
  }

  /** Takes a picture off this device: the server has it, or has kept that it was erased. */
  async #forget(photoId: string): Promise<void> {
    await this.#store.removePhoto(photoId);
    this.#tabs.tell({ kind: 'photos', put: [], gone: [photoId], faults: [] });
  }

  #change(put: readonly WaitingPhoto[], gone: readonly string[], faults: readonly (readonly [string, string])[]): void {
    // one that another tab has just put may have been found on the disk already
    const old = new Set([...gone, ...put.map((p) => p.photoId)]);
    this.#waiting.update((all) => [...all.filter((p) => !old.has(p.photoId)), ...put]);
    if (faults.length > 0) this.#faults.update((all) => new Map([...all, ...faults].filter(([id]) => new Map(faults).get(id) !== '')));
    for (const photoId of gone) {
      const url = this.#urls.get(photoId);
      if (url !== undefined) setTimeout(() => URL.revokeObjectURL(url), SHOWN_MILLISECOND);
      this.#urls.delete(photoId);
    }
    if (put.length > 0) this.#carrier.want();
  }

  #offerAgain(): void {
    if (this.#mayCome.size === 0) return;
    this.#tabs.tell({ kind: 'photos', put: [], gone: [], faults: [...this.#mayCome].map((id) => [id, '']) });
    this.#mayCome.clear();
    this.#carrier.wantAnew();
  }

  async #load(): Promise<void> {
    const found = await this.#store.listPhotos().catch(() => []);
    // one that was taken meanwhile is in neither or both
    this.#waiting.update((all) => [...found.filter((f) => !all.some((p) => p.photoId === f.photoId)), ...all]);
    this.#carrier.want();
  }

  /** Sends what can be sent. */
  async #round(): Promise<void> {
    if (!this.#canSend()) return;
    for (const photo of this.#waiting()) if (!this.#faults().has(photo.photoId)) await this.#sendPhoto(photo);
  }

  async #sendPhoto({ jobId, photoId, picture }: WaitingPhoto): Promise<void> {
    const path = `/api/jobs/${encodeURIComponent(jobId)}/photos/${encodeURIComponent(photoId)}`;
    const reply = await this.#api.putBytes(path, photoAnswerSchema, picture);
    if (reply.kind === 'answer' || (reply.kind === 'problem' && problemCode(reply.problem) === 'gone')) {
      this.#carrier.advance();
      return this.#forget(photoId);
    }
    if (reply.kind !== 'problem') throw new NotNow(0);
    if (isLater(reply.problem)) throw new NotNow(reply.retryMillisecond ?? 0);
    if (MAY_COME.has(reply.problem.status)) this.#mayCome.add(photoId);
    this.#tabs.tell({ kind: 'photos', put: [], gone: [], faults: [[photoId, reply.problem.detail]] });
  }
}
