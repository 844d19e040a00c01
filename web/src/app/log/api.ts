import { Injectable } from '@angular/core';
import { problemSchema, type Problem } from '@estuarine/contract';

/** What a request can come to: an answer, a problem that the server names, or no server at all. */
export type Reply<T> =
  | { readonly kind: 'answer'; readonly value: T; readonly etag: string | null }
  | { readonly kind: 'unchanged' }
  | { readonly kind: 'problem'; readonly problem: Problem }
  | { readonly kind: 'unreachable' };

const TIMEOUT_MILLISECOND = 15_000;

/** Talks to the server in JSON and turns every failure into a value. */
@Injectable({ providedIn: 'root' })
export class Api {
  get<T>(path: string, etag: string | null = null): Promise<Reply<T>> {
    return this.#send<T>(path, { headers: etag ? { 'if-none-match': etag } : {} });
  }

  post<T>(path: string, body: unknown): Promise<Reply<T>> {
    return this.#send<T>(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  }

  /** Puts a picture. */
  putBytes<T>(path: string, bytes: Blob): Promise<Reply<T>> {
    return this.#send<T>(path, { method: 'PUT', headers: { 'content-type': bytes.type }, body: bytes });
  }

  delete<T>(path: string): Promise<Reply<T>> {
    return this.#send<T>(path, { method: 'DELETE' });
  }

  async #send<T>(path: string, init: RequestInit): Promise<Reply<T>> {
    try {
      const response = await fetch(path, { ...init, cache: 'no-store', signal: AbortSignal.timeout(TIMEOUT_MILLISECOND) });
      if (response.status === 304) return { kind: 'unchanged' };
      const value: unknown = await response.json();
      if (response.ok) return { kind: 'answer', value: value as T, etag: response.headers.get('etag') };
      const problem = problemSchema.safeParse(value);
      // a proxy's error page is no word of ours: the server was not reached
      return problem.success ? { kind: 'problem', problem: problem.data } : { kind: 'unreachable' };
    } catch {
      return { kind: 'unreachable' };
    }
  }
}
