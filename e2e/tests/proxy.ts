import http from 'node:http';
import net from 'node:net';

/**
 * What the network does: all well; nothing gets through; what is sent is swallowed without a word; or the server gets what is sent and
 * its answer is lost.
 */
export type Weather = 'fair' | 'cut' | 'silent' | 'answersLost';

/** The network between one browser and the server, which a test can spoil. */
export class Proxy {
  #weather: Weather = 'fair';
  readonly #sockets = new Set<net.Socket>();
  readonly #server = http.createServer((request, response) => {
    if (this.#weather === 'silent') return;
    const onward = http.request(request.url ?? '', { method: request.method, headers: request.headers, agent: false }, (answer) => {
      if (this.#weather === 'answersLost') {
        answer.resume();
        response.destroy();
        return;
      }
      response.writeHead(answer.statusCode ?? 502, answer.headers);
      answer.pipe(response);
      answer.on('error', () => response.destroy());
    });
    onward.on('error', () => response.destroy());
    response.on('close', () => onward.destroy());
    request.pipe(onward);
  });

  async start(): Promise<string> {
    this.#server.on('connection', (socket) => {
      if (this.#weather === 'cut') {
        socket.destroy();
        return;
      }
      this.#sockets.add(socket);
      socket.on('close', () => this.#sockets.delete(socket)).on('error', () => undefined);
    });
    await new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));
    return `http://127.0.0.1:${(this.#server.address() as net.AddressInfo).port}`;
  }

  /** What was open breaks off, save where it is to hang. */
  turn(weather: Weather): void {
    const before = this.#weather;
    this.#weather = weather;
    if (weather === 'cut' || (weather === 'fair' && before === 'silent')) for (const socket of this.#sockets) socket.destroy();
  }

  async stop(): Promise<void> {
    this.turn('cut');
    await new Promise((resolve) => this.#server.close(resolve));
  }
}
