/** Registers the service worker where the page is served by the real server; in development there is none. */
export async function registerServiceWorker(): Promise<void> {
  if (!('serviceWorker' in navigator)) return;
  try {
    await navigator.serviceWorker.register('/service-worker.js');
  } catch {
    // the shell then needs the server on every load; acts are kept on the device all the same
  }
}
