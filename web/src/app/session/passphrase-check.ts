import { inject, Injectable } from '@angular/core';
import * as z from 'zod';
import { DeviceStore } from '../transport/store.ts';

/** Guesses cost this much: what lies on the device tells a passphrase to nobody in a useful time. */
const ROUNDS = 600_000;
const KEPT_AS = 'passphrase-check';
const bytes = z.array(z.int().min(0).max(255));
const kept = z.object({ personId: z.string(), salt: bytes, hash: bytes });

/**
 * Tells whether a passphrase is that of whoever signed in on this device last, for a screen that is unlocked while the server is away.
 * Only a slow salted hash of it lies here (PBKDF2 with SHA-256, RFC 8018).
 */
@Injectable({ providedIn: 'root' })
export class PassphraseCheck {
  readonly #store = inject(DeviceStore);

  async remember(personId: string, passphrase: string): Promise<void> {
    const salt = [...crypto.getRandomValues(new Uint8Array(16))];
    await this.#store.saveAnswer(KEPT_AS, { personId, salt, hash: await derive(passphrase, salt) }).catch(() => undefined);
  }

  async forget(): Promise<void> {
    await this.#store.saveAnswer(KEPT_AS, null).catch(() => undefined);
  }

  async matches(personId: string, passphrase: string): Promise<boolean> {
    const known = kept.safeParse(await this.#store.findAnswer(KEPT_AS).catch(() => undefined));
    if (!known.success || known.data.personId !== personId) return false;
    const hash = await derive(passphrase, known.data.salt);
    return hash.length === known.data.hash.length && hash.every((byte, i) => byte === known.data.hash[i]);
  }
}

async function derive(passphrase: string, salt: readonly number[]): Promise<number[]> {
  const key = await crypto.subtle.importKey('raw', new TextEncoder().encode(passphrase), 'PBKDF2', false, ['deriveBits']);
  const bits = await crypto.subtle.deriveBits(
    { name: 'PBKDF2', hash: 'SHA-256', salt: new Uint8Array(salt), iterations: ROUNDS },
    key,
    256,
  );
  return [...new Uint8Array(bits)];
}
