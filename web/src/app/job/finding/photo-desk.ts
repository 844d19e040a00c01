import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { photoAnswerSchema, problemCode } from '@estuarine/contract';
import { Api } from '../../line/api.ts';
import { DeviceStore, type WaitingPhoto } from '../../line/store.ts';
import { Link } from '../../line/link.ts';
import { Tabs } from '../../line/tabs.ts';
import { Session } from '../../session/session.ts';

const RETRY_MILLISECOND = 5000;
/** Answers that say "not now" rather than "no". */
const LATER = new Set([401, 403, 408, 429, 502, 503, 504]);
/** Not taken, but perhaps later: its job may come yet, or the server may be mended. */
const MAY_COME = new Set([404, 500]);

/**
 * Photographs on their way: on this device's disk until the server has the picture, or has kept that it was erased. The act that tells of
 * one goes by the outbox like any other; whichever arrives first, the other finds it by its id. One that is not taken holds up no other.
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
  #isSending = false;
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** Pictures that the server does not have yet, oldest first. */
  readonly waiting = this.#waiting.asReadonly();
  /** Why a picture was not taken by the server, by id. */
  readonly faults = this.#faults.asReadonly();
  readonly #urls = new Map<string, string>();

  constructor() {
    void this.#load();
    inject(Tabs).messages$.subscribe((message) => {
      if (message.kind !== 'kept') return;
      for (const { act } of message.acts)
        if (act.sent.act.type === 'photo.erased') void this.#forget(String(act.sent.act.body.photoId));
        // the job that its pictures wait for is there now
        else if (act.sent.act.type === 'job.opened') this.#offerAgain();
    });
    this.#link.behind$.subscribe(() => this.#offerAgain());
    effect(() => {
      const canSend = this.#link.isLive() && this.#session.person() !== null && !this.#session.isLocked();
      if (canSend && this.#waiting().length > 0) untracked(() => void this.#send());
    });
  }

  /** Puts a picture on the device; gives false where its disk is full. */
  async put(photo: WaitingPhoto): Promise<boolean> {
    try {
      await this.#store.savePhoto(photo);
    } catch {
      return false;
    }
    this.#waiting.update((all) => [...all, photo]);
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
    this.#waiting.update((all) => all.filter((p) => p.photoId !== photoId));
    const url = this.#urls.get(photoId);
    if (url !== undefined) setTimeout(() => URL.revokeObjectURL(url), RETRY_MILLISECOND);
    this.#urls.delete(photoId);
  }

  #offerAgain(): void {
    if (this.#mayCome.size === 0) return;
    const again = new Set(this.#mayCome);
    this.#mayCome.clear();
    this.#faults.update((all) => new Map([...all].filter(([id]) => !again.has(id))));
    if (this.#link.isLive()) void this.#send();
  }

  async #load(): Promise<void> {
    const found = await this.#store.listPhotos().catch(() => []);
    // one that was taken meanwhile is in neither or both
    this.#waiting.update((all) => [...found.filter((f) => !all.some((p) => p.photoId === f.photoId)), ...all]);
  }

  async #send(): Promise<void> {
    if (this.#isSending) return;
    this.#isSending = true;
    try {
      for (const photo of this.#waiting()) {
        if (this.#faults().has(photo.photoId)) continue;
        // another tab may send the same one: to the server it is one picture
        const path = `/api/jobs/${encodeURIComponent(photo.jobId)}/photos/${encodeURIComponent(photo.photoId)}`;
        const reply = await this.#api.putBytes(path, photoAnswerSchema, photo.picture);
        if (reply.kind === 'answer' || (reply.kind === 'problem' && problemCode(reply.problem) === 'gone'))
          await this.#forget(photo.photoId);
        else if (reply.kind === 'problem' && !LATER.has(reply.problem.status)) {
          if (MAY_COME.has(reply.problem.status)) this.#mayCome.add(photo.photoId);
          this.#faults.update((all) => new Map(all).set(photo.photoId, reply.problem.detail));
        } else {
          // not now: the server is away, or busy
          clearTimeout(this.#timer);
          this.#timer = setTimeout(() => void this.#send(), RETRY_MILLISECOND);
          return;
        }
      }
    } finally {
      this.#isSending = false;
    }
  }
}
