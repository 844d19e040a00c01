import { inject, Injectable } from '@angular/core';
import type * as z from 'zod';
import { Api } from './api.ts';
import { DeviceStore } from './store.ts';

/** An answer of the server, the one this device saw last, or neither. */
export type Known<T> =
  | { readonly kind: 'fresh'; readonly value: T }
  | { readonly kind: 'seen'; readonly value: T }
  | { readonly kind: 'none'; readonly value: undefined };

/** How a list stands by what came of asking for it. */
export function listStateOf(known: Known<unknown>): 'fresh' | 'seen' | 'failed' {
  return known.kind === 'none' ? 'failed' : known.kind;
}

/** Asks the server, and falls back on what this device saw last: for what is worth having when the server is away. */
@Injectable({ providedIn: 'root' })
export class KnownAnswers {
  readonly #api = inject(Api);
  readonly #store = inject(DeviceStore);

  async ask<S extends z.ZodType>(path: string, schema: S): Promise<Known<z.output<S>>> {
    const reply = await this.#api.get(path, schema);
    if (reply.kind === 'answer') {
      await this.keep(path, reply.value);
      return { kind: 'fresh', value: reply.value };
    }
    const value = await this.seen(path, schema);
    return value === undefined ? { kind: 'none', value: undefined } : { kind: 'seen', value };
  }

  /** What this device saw last; undefined where it saw nothing, or what an older application kept in another form. */
  async seen<S extends z.ZodType>(path: string, schema: S): Promise<z.output<S> | undefined> {
    const parsed = schema.safeParse(await this.#store.findAnswer(path).catch(() => undefined));
    return parsed.success ? parsed.data : undefined;
  }

  keep(path: string, value: unknown): Promise<void> {
    return this.#store.saveAnswer(path, value).catch(() => undefined);
  }
}
