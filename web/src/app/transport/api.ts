import { Injectable } from '@angular/core';
import { problemSchema, type Problem } from '@estuarine/contract';
import type * as z from 'zod';

/**
 * What a request can come to: an answer, a problem that the server names, or no server at all. `position`: place in the order of the shop
 * that the answer includes all events up to; null where it does not say.
 */
export type Reply<T> =
  | { readonly kind: 'answer'; readonly value: T; readonly position: number | null }
  | { readonly kind: 'unchanged'; readonly position: number | null }
  /** `retryMillisecond`: when the server wants to be asked again; null where it does not say. */
  | { readonly kind: 'problem'; readonly problem: Problem; readonly retryMillisecond: number | null }
  /** The server answered something that this application does not understand: one of the two is too old. */
  | { readonly kind: 'strange'; readonly raw: unknown }
  | { readonly kind: 'unreachable' };

const TIMEOUT_MILLISECOND = 15_000;

/** Talks to the server in JSON, parses every answer by its schema, and turns every failure into a value. */
@Injectable({ providedIn: 'root' })
export class Api {
  get<S extends z.ZodType>(path: string, schema: S, etag: string | null = null): Promise<Reply<z.output<S>>> {
    return this.#send(path, schema, { headers: etag ? { 'if-none-match': etag } : {} });
  }

  /** Sent although the page goes away; nobody learns what became of it. */
  sendLast(path: string, body: unknown): void {
    navigator.sendBeacon(path, new Blob([JSON.stringify(body)], { type: 'application/json' }));
  }

  post<S extends z.ZodType>(path: string, schema: S, body: unknown): Promise<Reply<z.output<S>>> {
    return this.#send(path, schema, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  }

  /** Puts a picture. */
  putBytes<S extends z.ZodType>(path: string, schema: S, bytes: Blob): Promise<Reply<z.output<S>>> {
    return this.#send(path, schema, { method: 'PUT', headers: { 'content-type': bytes.type }, body: bytes });
  }

  delete<S extends z.ZodType>(path: string, schema: S): Promise<Reply<z.output<S>>> {
    return this.#send(path, schema, { method: 'DELETE' });
  }

  async #send<S extends z.ZodType>(path: string, schema: S, init: RequestInit): Promise<Reply<z.output<S>>> {
    try {
      const response = await fetch(path, { ...init, cache: 'no-store', signal: AbortSignal.timeout(TIMEOUT_MILLISECOND) });
      const position = numberIn(response.headers, 'estuarine-position');
      if (response.status === 304) return { kind: 'unchanged', position };
      const raw: unknown = await response.json();
      if (response.ok) {
        const parsed = schema.safeParse(raw);
        return parsed.success ? { kind: 'answer', value: parsed.data, position } : { kind: 'strange', raw };
      }
      const problem = problemSchema.safeParse(raw);
      // a proxy's error page is no word of ours: the server was not reached
      const seconds = numberIn(response.headers, 'retry-after');
      const retryMillisecond = seconds === null ? null : 1000 * seconds;
      return problem.success ? { kind: 'problem', problem: problem.data, retryMillisecond } : { kind: 'unreachable' };
    } catch {
      return { kind: 'unreachable' };
    }
  }
}

function numberIn(headers: Headers, name: string): number | null {
  const text = headers.get(name) ?? '';
  return /^\d+$/.test(text) ? Number(text) : null;
}
