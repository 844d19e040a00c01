/** How bodies of older versions are read. */
import type { Trait } from './chapter.ts';

/** Brings a body of one version to the next. Pure; `stream` is the job's id. */
export type Upgrade = (body: Readonly<Record<string, unknown>>, stream: string) => Record<string, unknown>;

/** For each type the steps from version 1 on, one a version. */
export type Upgrades<Traits extends Record<string, Trait>> = { readonly [T in keyof Traits]?: readonly Upgrade[] };
