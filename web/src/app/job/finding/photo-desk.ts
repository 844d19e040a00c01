import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import { photoAnswerSchema } from '@estuarine/contract';
import { Api } from '../../line/api.ts';
import { DeviceStore, type WaitingPhoto } from '../../line/store.ts';
import { Link } from '../../line/link.ts';
import { Session } from '../../session/session.ts';

const RETRY_MILLISECOND = 5000;

/**
 * Photographs on their way: on this device's disk until the server has the picture. The act that tells of one goes by the outbox like
 * any other; whichever arrives first, the other finds it by its id.
 */
@Injectable({ providedIn: 'root' })
export class PhotoDesk {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #link = inject(Link);
  readonly #session = inject(Session);
  readonly #waiting = signal<readonly WaitingPhoto[]>([]);
  readonly #faults = signal<ReadonlyMap<string, string>>(new Map());
  #isSending = false;

  /** Pictures that the server does not have yet, oldest first. */
  readonly waiting = this.#waiting.asReadonly();
  /** Why a picture was not taken by the server, by id. */
  readonly faults = this.#faults.asReadonly();
  readonly #urls = new Map<string, string>();

  constructor() {
    void this.#load();
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

  /** Takes a picture off this device: the server has it, or it was erased. */
  async forget(photoId: string): Promise<void> {
    await this.#store.removePhoto(photoId);
    this.#waiting.update((all) => all.filter((p) => p.photoId !== photoId));
    const url = this.#urls.get(photoId);
    if (url !== undefined) setTimeout(() => URL.revokeObjectURL(url), RETRY_MILLISECOND);
    this.#urls.delete(photoId);
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
        if (reply.kind === 'answer') await this.forget(photo.photoId);
        else if (reply.kind === 'problem' && [409, 413, 415, 422].includes(reply.problem.status))
          this.#faults.update((all) => new Map(all).set(photo.photoId, reply.problem.detail));
        else {
          // not now: the job itself may still be on its way, or the server away
          setTimeout(() => void this.#send(), RETRY_MILLISECOND);
          return;
        }
      }
    } finally {
      this.#isSending = false;
    }
  }
}
