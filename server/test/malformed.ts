/**
 * Malformed requests without end: every route, every role, bodies that fit their schema but for one thing. None may fail the server, and
 * none may hang.
 */
import { ACT_TRAITS, actSchema, createGenerator, shopActSchema, versionOf, type Act, type Generator } from '@estuarine/core';
import type { FastifyInstance, InjectOptions, RouteOptions } from 'fastify';
import * as z from 'zod';
import { nextId, PAPERS, signIn } from './support.ts';

const PEOPLE = ['ts', 'om', 'jf', null] as const;
/** Ended by these, a session is of no more use to the requests that follow; the stream never ends. */
const LEFT_OUT = /^(DELETE|POST|PUT) \/api\/session|^GET (\/api\/stream|\/\*|\/api\/openapi.json)$/;
const HANG_MILLISECOND = 5000;

const IDS = ['target', 'om', 'ts', 'dunlin-28', 'G-07', 'M-01', 'sim-meter', 'torque.convert', 'target-1', 'm1', '1', '2'];
const USUAL: Readonly<Record<string, string | undefined>> = {
  ...{ jobId: 'target', profileId: 'dunlin-28', instrumentId: 'sim-meter', gearId: 'G-07', version: '1' },
  ...{ name: 'torque.convert', moduleId: 'target-1', photoId: 'p1' },
};
const HOSTILE_WORDS = [
  ...['', ' ', '\u0000', 'a\u0000b', '\ud800', 'x\udc00', '😀', 'constructor', '__proto__', 'toString', 'hasOwnProperty', '..', '../..'],
  ...['99999999999', '2147483648', '-1', '1e9', '0x10', 'NaN', 'null', '٣', 'x'.repeat(65), 'x'.repeat(5000), '<b>', "'; drop table x;--"],
  ...['0000-01-01T00:00:00.000Z', '9999-12-31T23:59:59.999Z', '+275760-09-13T00:00:00.000Z', '2099-01-01', '0001-01-01', '2026-02-30'],
  ...['shop', 'target-28', '%', '\u202e', '﻿'],
];
const HOSTILE_NUMBERS = [2147483647, 2147483648, 4294967296, 99999999999, Number.MAX_SAFE_INTEGER, 9007199254740994, 1e308, 1e-9, 5e-324];
const HOSTILE: readonly unknown[] = [
  ...HOSTILE_WORDS,
  ...HOSTILE_NUMBERS,
  ...HOSTILE_NUMBERS.map((n) => -n),
  ...[null, true, false, 0, -0, 0.5, -1, 201, [], {}, [[]], [null], { a: 1 }, Array.from({ length: 3000 }, () => 1)],
];

interface Asked extends InjectOptions {
  readonly method: 'GET' | 'POST';
  readonly url: string;
  readonly payload?: string;
}

interface JsonSchema {
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly type?: string;
  readonly anyOf?: readonly JsonSchema[];
  readonly oneOf?: readonly JsonSchema[];
  readonly properties?: Readonly<Record<string, JsonSchema>>;
  readonly required?: readonly string[];
  readonly items?: JsonSchema;
  readonly prefixItems?: readonly JsonSchema[];
  readonly minItems?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly minLength?: number;
  readonly format?: string;
  readonly pattern?: string;
}

export interface MalformedCounts {
  readonly requests: number;
  readonly byStatus: ReadonlyMap<number, number>;
  /** What failed the server or hung, as it was sent. */
  readonly faults: readonly string[];
}

export class Malformed {
  readonly #app: FastifyInstance;
  readonly #generator: Generator;
  readonly #routes: readonly { readonly method: string; readonly url: string; readonly body: JsonSchema | null }[];
  readonly #acts = variantsOf(actSchema);
  readonly #shopActs = variantsOf(shopActSchema);
  readonly #cookies = new Map<string, string>();

  constructor(app: FastifyInstance, routes: readonly RouteOptions[], seed: number) {
    this.#app = app;
    this.#generator = createGenerator(seed);
    this.#routes = routes.flatMap(({ method, url, schema }) =>
      [method].flat().flatMap((one) => {
        if (one === 'HEAD' || LEFT_OUT.test(`${one} ${url}`)) return [];
        const body = schema?.body instanceof z.ZodType ? schemaOf(schema.body) : null;
        const route = { method: one, url, body };
        return /(acts|batches)$/.test(url) ? Array.from({ length: 8 }, () => route) : [route];
      }),
    );
  }

  async run(requests: number): Promise<MalformedCounts> {
    const byStatus = new Map<number, number>();
    const faults: string[] = [];
    for (const person of PEOPLE) if (person) this.#cookies.set(person, await signIn(this.#app, person));
    for (let i = 0; i < requests; i++) {
      const asked = this.#make();
      const status = await this.#send(asked);
      byStatus.set(status, (byStatus.get(status) ?? 0) + 1);
      if (status === 500 || status === 0) faults.push(`${status} ${asked.method} ${asked.url} ${asked.payload ?? ''}`.slice(0, 2000));
    }
    return { requests, byStatus, faults };
  }

  async #send(asked: Asked): Promise<number> {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<number>((resolve) => (timer = setTimeout(() => resolve(0), HANG_MILLISECOND)));
    const answered = this.#app.inject(asked).then((answer) => answer.statusCode);
    try {
      return await Promise.race([answered, late]);
    } finally {
      clearTimeout(timer);
    }
  }

  #make(): Asked {
    const route = this.#pick(this.#routes);
    const person = this.#pick(PEOPLE);
    const cookie = person ? this.#cookies.get(person) : undefined;
    let url = route.url.replace(/:(\w+)/g, (_, name: string) => encodeSafely(this.#maybeHostile(this.#idFor(name), 0.2)));
    if (this.#chance(0.2)) {
      const name = this.#pick(['after', 'limit', 'ids', 'code', 'x', '__proto__']);
      url += `?${name}=${encodeSafely(this.#maybeHostile('1', 0.8))}`;
    }
    const base = { method: route.method as 'POST', url, headers: { ...(cookie ? { cookie } : {}) } };
    if (route.method === 'GET') return base;
    return {
      ...base,
      payload: this.#text(this.#bodyFor(route, person ?? 'om')),
      headers: { ...base.headers, 'content-type': route.url.includes('photos') && this.#chance(0.5) ? 'image/jpeg' : 'application/json' },
    };
  }

  #bodyFor(route: { readonly url: string; readonly body: JsonSchema | null }, by: string): unknown {
    const acts = route.url.startsWith('/api/shop') ? this.#shopActs : this.#acts;
    const sentBy = (): unknown => ({
      ...{ commandId: nextId(), deviceAt: new Date().toISOString(), by },
      ...this.#act(acts),
      ...(acts === this.#acts && this.#chance(0.2) ? { device: { id: 'd', turn: this.#generator.below(100), isClockSure: true } } : {}),
    });
    let body: unknown;
    if (route.url.endsWith('acts')) body = sentBy();
    else if (route.url.endsWith('batches')) body = { acts: Array.from({ length: 1 + this.#generator.below(4) }, sentBy) };
    else body = route.body ? this.#sample(route.body) : this.#pick(HOSTILE);
    for (let n = this.#generator.below(3); n > 0; n--) body = this.#spoil(body);
    return body;
  }

  /** An act of the version in which it is kept today, mostly. */
  #act(variants: readonly JsonSchema[]): object {
    const act = this.#sample(this.#pick(variants)) as Act;
    const current = act.type in ACT_TRAITS ? versionOf(act) : 1;
    const version = this.#chance(0.1) ? this.#generator.below(4) : current;
    if (variants === this.#shopActs) return { act };
    return { version, act, ...(act.type === 'job.opened' ? { papers: PAPERS } : {}) };
  }

  /** As JSON text, now and then cut off or with a key that reaches for a prototype. */
  #text(body: unknown): string {
    const text = JSON.stringify(body) ?? 'null';
    if (this.#chance(0.02)) return text.slice(0, this.#generator.below(text.length));
    if (this.#chance(0.02)) return text.replace('{', '{"__proto__":{"isAdmin":true},');
    return text;
  }

  /** A value of the schema, likely enough to be taken. */
  #sample(schema: JsonSchema, name = ''): unknown {
    if ('const' in schema) return schema.const;
    if (schema.enum) return this.#pick(schema.enum);
    const choices = schema.anyOf ?? schema.oneOf;
    if (choices) return this.#sample(this.#pick(choices), name);
    switch (schema.type) {
      case 'object': {
        const { properties = {}, required = [] } = schema;
        const named = Object.entries(properties).filter(([key]) => required.includes(key) || this.#chance(0.6));
        return Object.fromEntries(named.map(([key, inner]) => [key, this.#sample(inner, key)]));
      }
      case 'array': {
        if (schema.prefixItems) return schema.prefixItems.map((inner) => this.#sample(inner, name));
        const count = Math.max(schema.minItems ?? 0, name === 'moduleIds' ? 28 : this.#generator.below(3));
        return Array.from({ length: Math.min(count, 30) }, () => this.#sample(schema.items ?? {}, name));
      }
      case 'string':
        if (schema.format === 'date') return '2026-05-04';
        if (schema.format === 'date-time') return '2026-05-04T08:00:00.000Z';
        if (schema.pattern && schema.pattern.length > 60) return this.#pick(['0'.repeat(64), '2026-05-04', '2026-05-04T08:00:00.000Z']);
        return schema.pattern || this.#chance(0.5) ? this.#pick(IDS) : `word ${'x'.repeat(schema.minLength ?? 3)}`;
      case 'integer':
      case 'number': {
        const low = Math.max(schema.minimum ?? 0, -1000);
        const high = Math.min(schema.maximum ?? 100, low + 100);
        const value = low + this.#generator.next() * (high - low);
        return schema.type === 'integer' ? Math.round(value) : value;
      }
      case 'boolean':
        return this.#chance(0.5);
      case 'null':
        return null;
      default:
        return this.#pick(HOSTILE);
    }
  }

  /** One place of a body made hostile: another value, a key less or more, an array of one thing many times. */
  #spoil(body: unknown): unknown {
    if (typeof body !== 'object' || body === null || this.#chance(0.03)) return this.#pick(HOSTILE);
    const keys = Object.keys(body);
    const inner = ['act', 'body'].find((name) => keys.includes(name));
    const key = inner && this.#chance(0.8) ? inner : keys.length > 0 ? this.#pick(keys) : '';
    if (Array.isArray(body)) {
      if (this.#chance(0.2)) return Array.from({ length: 28 }, () => body[0] as unknown);
      return body.map((one: unknown, i) => (String(i) === key ? this.#spoil(one) : one));
    }
    const held = body as Record<string, unknown>;
    if (this.#chance(0.1)) return Object.fromEntries(Object.entries(held).filter(([k]) => k !== key));
    if (this.#chance(0.1)) return { ...held, [this.#pick(HOSTILE_WORDS)]: this.#pick(HOSTILE) };
    return { ...held, [key]: this.#spoil(held[key]) };
  }

  #idFor(parameter: string): string {
    const usual = USUAL[parameter];
    // whose passphrase is changed or name erased is signed in no longer
    if (parameter === 'personId') return 'nk';
    if (usual === undefined || this.#chance(0.2)) return this.#pick(IDS);
    return parameter === 'jobId' && this.#chance(0.2) ? nextId() : usual;
  }

  #maybeHostile(word: string, chance: number): string {
    return this.#chance(chance) ? this.#pick(HOSTILE_WORDS) : word;
  }

  #chance(share: number): boolean {
    return this.#generator.next() < share;
  }

  #pick<T>(of: readonly T[]): T {
    return of[this.#generator.below(of.length)] as T;
  }
}

function schemaOf(schema: z.ZodType): JsonSchema {
  return z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as JsonSchema;
}

function variantsOf(schema: z.ZodType): readonly JsonSchema[] {
  const { oneOf, anyOf } = schemaOf(schema);
  return oneOf ?? anyOf ?? [];
}

/** As a part of an address; what has no UTF-8 goes as the bytes that others would send for it. */
function encodeSafely(word: string): string {
  return word.isWellFormed() ? encodeURIComponent(word) : '%ED%A0%80';
}
