/** What a room of the server owes the shop's own stream: what becomes of its acts, and what they change in its tables. */
import type { Refusal, Role, ShopAct, ShopActType } from '@estuarine/core';
import type { Queryable } from '../database/database.ts';

type ActOf<T extends ShopActType> = Extract<ShopAct, { type: T }>;

export interface ShopScene {
  readonly db: Queryable;
  readonly shopId: string;
  readonly role: Role;
  /** Calendar date by the server's clock, UTC. */
  readonly today: string;
}

/** Where a kept act is applied: the same whoever asked, and whenever. */
export type ShopTables = Pick<ShopScene, 'db' | 'shopId'>;

/** The acts of the types named, each with its case. */
export interface ShopRoom<T extends ShopActType> {
  /** Why an act is not kept; null where it is. */
  readonly decide: { readonly [K in T]: (act: ActOf<K>, scene: ShopScene) => Promise<Refusal | null> };
  /** What a kept act changes in the tables of the room; also run by a remake. */
  readonly project: { readonly [K in T]: (body: ActOf<K>['body'], scene: ShopTables) => Promise<void> };
}

/** For acts that are kept as they are. */
export const asIs = (): Promise<null> => Promise.resolve(null);
