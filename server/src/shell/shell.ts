/** The web application itself: static files, and its page with a fresh nonce for every request. */
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import helmet from '@fastify/helmet';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance, FastifyReply } from 'fastify';
import { HttpProblem, sendProblem } from '../problem.ts';

/** A worker takes the policy of its own script's response, not the page's. */
const WORKER_POLICY = "default-src 'none'; script-src 'self'; connect-src 'self'";
/** Plotly puts one empty style element into the head and fills it by script: this is the hash of nothing. */
const EMPTY_STYLE = "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='";

function pagePolicy(nonce: string): string {
  return [
    "default-src 'none'",
    "script-src 'self'",
    "worker-src 'self'",
    `style-src 'self' 'nonce-${nonce}' ${EMPTY_STYLE}`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "manifest-src 'self'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Serves the pages and their files with the usual protective headers; answers everything unknown. */
export async function serveShell(app: FastifyInstance, webRoot: string | undefined): Promise<void> {
  await app.register(async (shell) => {
    await shell.register(helmet, { contentSecurityPolicy: false, crossOriginEmbedderPolicy: false, strictTransportSecurity: false });
    const file = webRoot ? path.join(webRoot, 'index.html') : '';
    const page = file && existsSync(file) ? readFileSync(file, 'utf8') : null;
    if (page && webRoot) await serveFiles(shell, webRoot, page);
    shell.setNotFoundHandler(async (request, reply) => {
      const [where = ''] = request.url.split('?');
      // an address of the application may hold a point; a browser that goes there asks for a page
      const isPage = !/\.[a-z0-9]+$/i.test(where) || (request.headers.accept ?? '').includes('text/html');
      if (page && request.method === 'GET' && !where.startsWith('/api/') && isPage) return sendPage(reply, page);
      return sendProblem(reply, new HttpProblem(404, 'notFound', `There is nothing at ${request.method} ${where.slice(0, 200)}.`));
    });
  });
}

async function serveFiles(shell: FastifyInstance, webRoot: string, page: string): Promise<void> {
  await shell.register(fastifyStatic, {
    root: webRoot,
    index: false,
    preCompressed: true,
    wildcard: true,
    setHeaders: (reply, served) => {
      if (/\/(worker-|service-worker)[^/]*js/.test(served)) void reply.header('content-security-policy', WORKER_POLICY);
      if (/-[A-Z0-9]{8}\.(js|css|woff2)(\.br|\.gz)?$/.test(served))
        void reply.header('cache-control', 'public, max-age=31536000, immutable');
      else void reply.header('cache-control', 'no-cache');
    },
  });
  shell.get('/', { schema: { hide: true } }, (_request, reply) => sendPage(reply, page));
  // never the raw file: it has no policy and no nonce
  shell.get('/index.html', { schema: { hide: true } }, (_request, reply) => reply.redirect('/', 308));
}

function sendPage(reply: FastifyReply, page: string): FastifyReply {
  const nonce = randomBytes(16).toString('base64');
  return reply
    .header('content-security-policy', pagePolicy(nonce))
    .header('cache-control', 'no-store')
    .type('text/html; charset=utf-8')
    .send(page.replaceAll('__CSP_NONCE__', nonce));
}
