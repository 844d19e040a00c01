/**
 * Simulated bench instruments of the demonstration: they speak SCPI over TCP on loopback as real ones do, and read a hidden pack.
 * Where the leads lie is told by a command of their own, `SIMulate:LEADs`, since nobody holds them.
 */
import net from 'node:net';

export interface StandIn {
  readonly name: string;
  /** Answers a query; null: unknown. `leads` is what the last SIMulate:LEADs said. */
  readonly answer: (query: string, leads: string | null) => Promise<string | null>;
}

export interface RunningStandIn {
  readonly port: number;
  readonly close: () => Promise<void>;
}

const MAXIMUM_LINE = 1024;

/** Serves on a free loopback port until it is closed. A connection that breaks is dropped. */
export async function serveLoopback(onConnection: (socket: net.Socket) => void): Promise<RunningStandIn> {
  const sockets = new Set<net.Socket>();
  const server = net.createServer((socket) => {
    sockets.add(socket);
    socket.on('close', () => sockets.delete(socket)).on('error', () => socket.destroy());
    onConnection(socket);
  });
  await new Promise<void>((resolve, reject) => server.once('error', reject).listen(0, '127.0.0.1', resolve));
  server.unref();
  const address = server.address();
  return {
    port: typeof address === 'object' && address ? address.port : 0,
    close: () =>
      new Promise((resolve) => {
        for (const socket of sockets) socket.destroy();
        server.close(() => resolve());
      }),
  };
}

/** Starts one on a free loopback port. */
export function startStandIn({ name, answer }: StandIn): Promise<RunningStandIn> {
  return serveLoopback((socket) => {
    let text = '';
    let leads: string | null = null;
    let queue = Promise.resolve();
    const handle = async (line: string): Promise<void> => {
      const placed = /^:?SIM(?:ulate)?:LEAD(?:s)?\s+"([^"]{0,300})"$/i.exec(line);
      if (placed) {
        leads = placed[1] ?? null;
        return;
      }
      if (!line.endsWith('?')) return; // a setting: taken, without an answer
      if (/^\*IDN\?$/i.test(line)) socket.write(`Estuarine,${name} (simulated),0,1\n`);
      else socket.write(`${(await answer(line.toUpperCase(), leads)) ?? '9.9E37'}\n`);
    };
    socket.on('data', (chunk) => {
      text += chunk.toString('latin1');
      if (text.length > MAXIMUM_LINE) return socket.destroy();
      const lines = text.split('\n');
      text = lines.pop() ?? '';
      for (const line of lines) queue = queue.then(() => handle(line.trim())).catch(() => void socket.destroy());
      return undefined;
    });
  });
}
