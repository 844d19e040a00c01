/// <reference lib="webworker" />
/**
 * Keeps the shell on the device, so that a reload with the server gone still opens. Data are not kept here: the application has
 * its own store for them. The page is taken from the server when it answers, since it carries a fresh nonce each time.
 */
import { cleanupOutdatedCaches, precacheAndRoute } from 'workbox-precaching';

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: { url: string; revision: string | null }[] };

const PAGES = 'estuarine-pages';
/** A server that hangs counts as gone. */
const PAGE_MILLISECOND = 4000;

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();

self.addEventListener('install', (event) => {
  void self.skipWaiting();
  event.waitUntil(caches.open(PAGES).then((cache) => cache.add('/')));
});
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));

self.addEventListener('fetch', (event) => {
  if (event.request.mode !== 'navigate' || new URL(event.request.url).pathname.startsWith('/api/')) return;
  event.respondWith(openPage());
});

async function openPage(): Promise<Response> {
  const cache = await caches.open(PAGES);
  try {
    const fresh = await fetch('/', { signal: AbortSignal.timeout(PAGE_MILLISECOND) });
    if (fresh.ok) await cache.put('/', fresh.clone());
    return fresh;
  } catch (error) {
    const kept = await cache.match('/');
    if (kept) return kept;
    throw error;
  }
}
