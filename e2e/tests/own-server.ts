import { spawn, type ChildProcess } from 'node:child_process';
import net from 'node:net';
import path from 'node:path';

const ROOT = path.resolve(import.meta.dirname, '../..');

/** A second server process on the same database, which this test may kill. */
export class OwnServer {
  port = 0;
  #child: ChildProcess | null = null;

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    this.port ||= await findFreePort();
    const env = {
      ...process.env,
      PORT: String(this.port),
      ESTUARINE_SECRET: 'a secret of the browser tests, long enough',
      ESTUARINE_TRIES_PER_MINUTE: '1000',
      ESTUARINE_WEB: path.join(ROOT, 'web/dist/browser'),
    };
    const child = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    this.#child = child;
    await new Promise<void>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => {
        if (chunk.toString().includes('listening')) resolve();
      });
      child.once('exit', () => reject(new Error('the server ended')));
    });
  }

  async kill(): Promise<void> {
    const child = this.#child;
    if (!child) return;
    this.#child = null;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await gone;
  }
}

function findFreePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = net.createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as net.AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}
