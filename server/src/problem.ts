/** Every error leaves the server in one shape: problem details (RFC 9457). */
import fs from 'node:fs';
import { PROBLEM_PREFIX, type Problem } from '@estuarine/contract';
import type { Refusal, RefusalCode } from '@estuarine/core';
import type { FastifyError, FastifyReply, FastifyRequest } from 'fastify';
import { hasZodFastifySchemaValidationErrors } from 'fastify-type-provider-zod';

/** When to come back after a 503, in seconds; a device adds its own growing wait. */
const RETRY_SECOND = 1;

/** An answer that is a problem; thrown inside a route and turned into the answer at the edge. */
export class HttpProblem extends Error {
  readonly status: number;
  readonly code: string;
  readonly path: readonly (string | number)[];
  /** When to come back, in seconds; null where that does not help. */
  readonly retrySecond: number | null;

  constructor(
    status: number,
    code: string,
    detail: string,
    path: readonly (string | number)[] = [],
    retrySecond = status === 503 ? RETRY_SECOND : null,
  ) {
    super(detail);
    this.status = status;
    this.code = code;
    this.path = path;
    this.retrySecond = retrySecond;
  }
}

/** A value that cannot be is 422; a conflict with what stands is 409. */
const STATUS_OF_REFUSAL: Record<RefusalCode, number> = {
  impossible: 422,
  mismatch: 422,
  empty: 422,
  unknownName: 422,
  tooLarge: 422,
  unreadable: 422,
  notPermitted: 409,
  taken: 409,
  gone: 409,
  tooOld: 503,
  cancelled: 503,
};

export function problemOfRefusal(refusal: Refusal): HttpProblem {
  return new HttpProblem(STATUS_OF_REFUSAL[refusal.code], refusal.code, refusal.message, refusal.path);
}

const TITLES: Record<number, string> = {
  400: 'Not readable',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  409: 'Conflicts with what stands',
  413: 'Too large',
  414: 'Address too long',
  415: 'Wrong content type',
  422: 'Does not fit',
  429: 'Too many requests',
  503: 'Not ready',
};

/** What does not fit its schema, with the place; of keys that are too many the first is named. */
export function problemOfIssue(
  issue: { readonly message: string; readonly path: readonly PropertyKey[]; readonly keys?: readonly string[] } | undefined,
  ...within: string[]
): HttpProblem {
  const path = [...(issue?.path ?? []), ...(issue?.keys?.slice(0, 1) ?? [])].map((p) => (typeof p === 'symbol' ? p.toString() : p));
  return new HttpProblem(422, 'schema', `${(issue?.message ?? 'It does not fit').replace(/\.?$/, '.')} Nothing was kept.`, [
    ...within,
    ...path,
  ]);
}

/** A problem as it is sent. */
export function problemBody(problem: HttpProblem): Problem {
  return {
    type: PROBLEM_PREFIX + problem.code,
    title: TITLES[problem.status] ?? 'Failed',
    status: problem.status,
    detail: problem.message,
    path: [...problem.path],
  };
}

export async function sendProblem(reply: FastifyReply, problem: HttpProblem): Promise<void> {
  if (problem.retrySecond !== null) void reply.header('retry-after', String(problem.retrySecond));
  await reply
    .code(problem.status)
    .type('application/problem+json; charset=utf-8')
    .send(JSON.stringify(problemBody(problem)));
}

/** The error handler of the application. `dataFolder`: of the database, where it lies on this machine. */
export function errorHandler(dataFolder: string | null) {
  return (error: FastifyError, request: FastifyRequest, reply: FastifyReply): Promise<void> =>
    sendProblem(reply, toProblem(error, request, dataFolder));
}

function toProblem(error: FastifyError, request: FastifyRequest, dataFolder: string | null): HttpProblem {
  if (error instanceof HttpProblem) return error;
  if (hasZodFastifySchemaValidationErrors(error)) {
    const first = error.validation[0];
    const path = (first?.instancePath ?? '').split('/').filter((p) => p !== '');
    const { keys } = (first?.params ?? {}) as { readonly keys?: readonly string[] };
    return problemOfIssue({
      message: first?.message ?? 'The request does not fit its schema',
      path: path.map(asIndex),
      ...(keys && { keys }),
    });
  }
  const status = error.statusCode ?? 500;
  if (status === 413) return new HttpProblem(413, 'tooLarge', 'The request is larger than this route takes. Nothing was kept.');
  if (error.code === 'FST_ERR_BAD_URL') return new HttpProblem(400, 'unreadable', 'The address could not be read.');
  if (status === 414 || error.code === 'FST_ERR_MAX_PARAM_LENGTH')
    return new HttpProblem(414, 'tooLong', 'A part of the address is longer than any name here.');
  if (status === 415) return new HttpProblem(415, 'contentType', 'That content type is not taken here: JSON, and JPEG for photographs.');
  if (status === 429) return new HttpProblem(429, 'tooMany', 'Too many requests in a short time. Wait a little.');
  if (status >= 400 && status < 500) return new HttpProblem(400, 'unreadable', 'The request could not be read as JSON. Nothing was kept.');
  if (isDiskFull(error) || (isConnectionLost(error) && isNearlyFull(dataFolder)))
    return new HttpProblem(
      503,
      'diskFull',
      'The disk of the server is full. Nothing was kept. Free some space there; what waits on the devices follows by itself.',
    );
  if (isFull(error))
    return new HttpProblem(503, 'busy', 'The database takes no more connections just now. Nothing was kept; send it again.');
  if (isConnectionLost(error))
    return new HttpProblem(503, 'notReady', 'The database cannot be reached just now. Nothing was kept; send it again.');
  request.log.error(error);
  return new HttpProblem(500, 'internal', 'The server failed on this request. Nothing was kept; the reason is in its log.');
}

function asIndex(part: string): string | number {
  return /^\d+$/.test(part) ? Number(part) : part;
}

/** Too many clients, or one that waited too long for a connection of ours. */
function isFull(error: { code?: string; message: string }): boolean {
  return /^53[34]00$/.test(error.code ?? '') || error.message.includes('timeout exceeded when trying to connect');
}

function isDiskFull(error: { code?: string }): boolean {
  return error.code === '53100' || error.code === 'ENOSPC';
}

/** A database that finds no room for its log ends: all that can be told then is what is left of its disk. */
const LEAST_FREE_BYTES = 32e6;

function isNearlyFull(dataFolder: string | null): boolean {
  if (dataFolder === null) return false;
  try {
    const { bavail, bsize } = fs.statfsSync(dataFolder);
    return bavail * bsize < LEAST_FREE_BYTES;
  } catch {
    return false;
  }
}

function isConnectionLost(error: { code?: string; message: string }): boolean {
  return (
    /^(ECONN|EPIPE|ETIMEDOUT|EHOST|ENET|57P0|08)/.test(error.code ?? '') || /Connection terminated|is not queryable/.test(error.message)
  );
}
