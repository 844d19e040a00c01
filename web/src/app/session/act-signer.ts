import { computed, effect, inject, Injectable, untracked } from '@angular/core';
import { certificateSchema, signedText, type SentAct, type Signature } from '@estuarine/contract';
import { Api } from '../transport/api.ts';
import { Link } from '../transport/link.ts';
import { DeviceStore, type HeldKey } from '../transport/store.ts';
import { Session } from './session.ts';

const KEY_PATH = '/api/session/key';
const CURVE = { name: 'ECDSA', namedCurve: 'P-256' } as const;

/**
 * Signs what this device keeps for whoever is signed in, by a key that no page can read and that the server certified to the session. It is
 * dropped when the screen locks and when the person signs out: then nobody here says anything in that name that would be believed. While
 * the server is away no other can be had, and what is kept then goes unsigned: its author sends it, or answers for it later.
 */
@Injectable({ providedIn: 'root' })
export class ActSigner {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);
  readonly #session = inject(Session);
  readonly #link = inject(Link);
  #held: HeldKey | null = null;
  readonly #whose = computed(() => (this.#session.isLocked() ? null : (this.#session.person()?.id ?? null)));
  /** What lies on the disk was looked at, one look after the other. */
  #looked: Promise<void> = Promise.resolve();
  #isMaking = false;

  constructor() {
    effect(() => {
      const person = this.#whose();
      // asked again once the server is back
      this.#link.isLive();
      if (this.#session.isKnown()) untracked(() => this.#look(person));
    });
  }

  #look(person: string | null): void {
    this.#looked = this.#looked.then(() => this.#holdFor(person)).catch(() => undefined);
  }

  /** The signature of an act as it is stored; null where this device holds no key of its author. */
  async sign(jobId: string, sent: SentAct): Promise<Signature | null> {
    await this.#looked;
    const held = this.#held;
    if (held?.certificate.person !== sent.by) return null;
    try {
      const text = new TextEncoder().encode(signedText(jobId, sent));
      const value = await crypto.subtle.sign({ name: 'ECDSA', hash: 'SHA-256' }, held.key, text);
      return { certificate: held.certificate, value: toBase64(value) };
    } catch {
      return null;
    }
  }

  async #holdFor(person: string | null): Promise<void> {
    if (this.#isGood(this.#held, person)) return;
    this.#held = null;
    const stored = await this.#store.findKey();
    if (this.#isGood(stored, person)) {
      this.#held = stored;
      return;
    }
    if (stored) await this.#store.removeKey();
    // an answer that does not come holds nothing up
    if (person !== null) void this.#make(person).catch(() => undefined);
  }

  async #make(person: string): Promise<void> {
    if (this.#isMaking) return;
    this.#isMaking = true;
    try {
      await this.#ask(person);
    } finally {
      this.#isMaking = false;
    }
  }

  async #ask(person: string): Promise<void> {
    const { privateKey, publicKey } = await crypto.subtle.generateKey(CURVE, false, ['sign', 'verify']);
    const key = toBase64(await crypto.subtle.exportKey('spki', publicKey));
    const reply = await this.#api.post(KEY_PATH, certificateSchema, { device: this.#store.deviceId, key });
    // whoever left meanwhile, or locked the screen, leaves no key behind
    if (reply.kind !== 'answer' || reply.value.person !== person || this.#whose() !== person) return;
    this.#held = { certificate: reply.value, key: privateKey };
    await this.#store.saveKey(this.#held);
  }

  #isGood(held: HeldKey | null, person: string | null): boolean {
    if (held === null || person === null || held.certificate.person !== person) return false;
    return held.certificate.device === this.#store.deviceId && Date.parse(held.certificate.until) > this.#link.now().at.getTime();
  }
}

function toBase64(bytes: ArrayBuffer): string {
  const text = btoa(String.fromCharCode(...new Uint8Array(bytes)));
  return text.replace(/\+/g, '-').replace(/\//g, '_').replace(/=+$/, '');
}
