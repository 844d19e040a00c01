/** Profiles and policies by version: they never change, so each is read once a process. */
import type { Policy, Profile } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';
import { findPolicy } from '../policy/store.ts';
import { findProfile } from './store.ts';

export class References {
  readonly #shopId: string;
  readonly #profiles = new Map<string, Profile>();
  readonly #policies = new Map<number, Policy>();

  constructor(shopId: string) {
    this.#shopId = shopId;
  }

  async profile(db: Queryable, id: string, version: number): Promise<Profile | null> {
    const key = `${id}@${version}`;
    const known = this.#profiles.get(key);
    if (known) return known;
    const found = await findProfile(db, this.#shopId, id, version);
    if (found) this.#profiles.set(key, found);
    return found;
  }

  async policy(db: Queryable, version: number): Promise<Policy | null> {
    const known = this.#policies.get(version);
    if (known) return known;
    const found = await findPolicy(db, this.#shopId, version);
    if (found) this.#policies.set(version, found);
    return found;
  }
}
