/**
 * Asks one address again and again over some connections, in a process of its own, and counts the answers. It looks for the end of an
 * answer and at nothing else: a client that reads every body as text is slower than the server, and would measure itself.
 */
import { fork } from 'node:child_process';
import net from 'node:net';
import { fileURLToPath } from 'node:url';

interface Asking {
  readonly url: string;
  readonly headers: Readonly<Record<string, string>>;
}

const CONNECTIONS = 10;
const SECOND = 0.5;

/** Answers a second. Throws where one was neither 200 nor 304. */
export function askingRate(url: string, headers: Readonly<Record<string, string>> = {}): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = fork(fileURLToPath(import.meta.url), [JSON.stringify({ url, headers } satisfies Asking)]);
    child.once('message', (rate) => resolve(Number(rate)));
    child.once('exit', (code) => reject(new Error(`asking ${url} ended with ${code}`)));
  });
}

/** Asks on one connection until the end; gives how many answers came. */
function ask({ url, headers }: Asking, end: number): Promise<number> {
  const { hostname, port, host, pathname } = new URL(url);
  const lines = Object.entries({ host, ...headers }).map(([name, value]) => `${name}: ${value}\r\n`);
  const request = `GET ${pathname} HTTP/1.1\r\n${lines.join('')}\r\n`;
  return new Promise((resolve, reject) => {
    const socket = net.connect(Number(port), hostname, () => socket.write(request)).on('error', reject);
    let [count, missing] = [0, -1];
    socket.on('data', (bytes: Buffer) => {
      if (missing < 0) {
        const head = bytes.toString('latin1', 0, bytes.indexOf('\r\n\r\n') + 4);
        if (!/^HTTP\/1\.1 (200|304) /.test(head)) socket.destroy(new Error(`${url} answered ${head}`));
        missing = head.length + Number(/content-length: (\d+)/i.exec(head)?.[1] ?? 0);
      }
      missing -= bytes.length;
      if (missing > 0) return;
      [count, missing] = [count + 1, -1];
      if (performance.now() < end) socket.write(request);
      else {
        socket.destroy();
        resolve(count);
      }
    });
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const asking = JSON.parse(process.argv[2] ?? '') as Asking;
  const end = performance.now() + 1000 * SECOND;
  const counts = await Promise.all(Array.from({ length: CONNECTIONS }, () => ask(asking, end)));
  process.send?.(counts.reduce((a, b) => a + b) / SECOND);
  process.disconnect();
}
