/** How bodies of older versions are read. */
import type { Table } from './table.ts';

/** From one version of a body to the next. */
export interface Upgrade {
  /** Places of keys that the older version did not know; `*` stands for each of a list. */
  readonly adds: readonly string[];
  /** Pure; `stream` is the job's id. */
  readonly bring: (body: Readonly<Record<string, unknown>>, stream: string) => Record<string, unknown>;
}

/** For each type the steps from version 1 on, one a version. */
export type Upgrades<T extends Table> = { readonly [K in keyof T]?: readonly Upgrade[] };
