/**
 * A connection to a car's units: classical CAN frames over TCP, sixteen bytes each as the kernel of Linux lays them out (`struct
 * can_frame`, little-endian), with the messages of ISO 15765-2 on top. One request at a time; a unit that asks for time gets it.
 */
import net from 'node:net';
import { FLOW_ON, MessageJoiner, readAnswer, splitMessage, type FrameData } from '@estuarine/core';
import { InstrumentSilent } from './scpi.ts';

export const FRAME_BYTE = 16;

export interface CanFrame {
  readonly id: number;
  readonly data: FrameData;
}

export function writeFrame({ id, data }: CanFrame): Buffer {
  const bytes = Buffer.alloc(FRAME_BYTE);
  bytes.writeUInt32LE(id, 0);
  bytes.writeUInt8(data.length, 4);
  bytes.set(data, 8);
  return bytes;
}

/** The whole frames at the start of what came, and the rest. */
export function readFrames(bytes: Buffer): { readonly frames: readonly CanFrame[]; readonly rest: Buffer } {
  const whole = Math.floor(bytes.length / FRAME_BYTE);
  const frames = Array.from({ length: whole }, (_, i) => {
    const at = i * FRAME_BYTE;
    const length = Math.min(8, bytes.readUInt8(at + 4));
    return { id: bytes.readUInt32LE(at), data: [...bytes.subarray(at + 8, at + 8 + length)] };
  });
  return { frames, rest: bytes.subarray(whole * FRAME_BYTE) };
}

export interface CanOptions {
  readonly host: string;
  readonly port: number;
  /** Sent first; a simulated car is told by it whose it is. */
  readonly prelude?: string;
  readonly timeoutMillisecond?: number;
  /** How long a unit may take that asked for time. */
  readonly patienceMillisecond?: number;
}

/** Where a request goes and where its answer comes from. */
export interface Unit {
  readonly name: string;
  readonly requestId: number;
  readonly answerId: number;
}

/** A unit that said no: with its reason. */
export class UnitRefused extends Error {
  readonly code: number;
  constructor(unit: Unit, code: number, message: string) {
    super(`${unit.name}: ${message}`);
    this.code = code;
  }
}

const TIMEOUT_MILLISECOND = 1500;
const PATIENCE_MILLISECOND = 6000;
/** However often a unit asks for time. */
const MOST_PENDING = 5;
/** More than this without a whole message is no car. */
const MOST_WAITING_BYTE = 64 * 1024;

export class CanLine {
  readonly #socket: net.Socket;
  readonly #options: CanOptions;
  #bytes = Buffer.alloc(0);
  #onFrame: ((frame: CanFrame) => void) | null = null;
  #onLost: (() => void) | null = null;

  private constructor(socket: net.Socket, options: CanOptions) {
    this.#socket = socket;
    this.#options = options;
    socket.on('data', (chunk) => this.#take(chunk)).on('close', () => this.#onLost?.());
    if (options.prelude !== undefined) socket.write(options.prelude);
  }

  /** Connects. Throws {@link InstrumentSilent} where nothing answers. */
  static open(options: CanOptions): Promise<CanLine> {
    const { host, port, timeoutMillisecond = TIMEOUT_MILLISECOND } = options;
    return new Promise((resolve, reject) => {
      const socket = net.connect({ host, port });
      const fail = (): void => {
        socket.destroy();
        reject(
          new InstrumentSilent('unreachable', `Nothing answers at ${host}, port ${port}. Is the reader plugged in and on this network?`),
        );
      };
      socket.setTimeout(timeoutMillisecond, fail).once('error', fail);
      socket.once('connect', () => {
        socket
          .setTimeout(0)
          .off('error', fail)
          .on('error', () => undefined);
        resolve(new CanLine(socket, options));
      });
    });
  }

  /**
   * Asks a unit and gives the data behind the service of its answer. Throws {@link UnitRefused} for a negative answer, and
   * {@link InstrumentSilent} where none came in time, the connection went, or frames of a long answer were lost.
   */
  ask(unit: Unit, request: readonly number[]): Promise<readonly number[]> {
    const split = splitMessage(request);
    if (split.kind === 'refused' || split.value.length !== 1) throw new RangeError('requests of a scan fit one frame');
    const [service = 0] = request;
    const { timeoutMillisecond = TIMEOUT_MILLISECOND, patienceMillisecond = PATIENCE_MILLISECOND } = this.#options;
    return new Promise((resolve, reject) => {
      const joiner = new MessageJoiner();
      let timer: NodeJS.Timeout;
      let asks = 0;
      const end = (finish: () => void): void => {
        clearTimeout(timer);
        this.#onFrame = this.#onLost = null;
        finish();
      };
      const fail = (reason: InstrumentSilent['reason'], words: string): void =>
        end(() => reject(new InstrumentSilent(reason, `${unit.name}: ${words}`)));
      const wait = (millisecond: number): void => {
        clearTimeout(timer);
        timer = setTimeout(() => fail('late', `no answer within ${millisecond / 1000} s.`), millisecond);
      };
      wait(timeoutMillisecond);
      this.#onLost = () => fail('lost', 'the connection to the reader was lost.');
      this.#onFrame = ({ id, data }) => {
        if (id !== unit.answerId) return;
        const joined = joiner.take(data);
        if (joined.kind === 'letOn') {
          this.#send({ id: unit.requestId, data: FLOW_ON });
          wait(timeoutMillisecond);
        } else if (joined.kind === 'broken') fail('unreadable', joined.message);
        else if (joined.kind === 'whole') {
          const said = readAnswer(service, joined.bytes);
          if (said.kind === 'pending') {
            if (++asks > MOST_PENDING) fail('late', 'it asks for time again and again, and answers nothing.');
            else wait(patienceMillisecond);
          }
          if (said.kind === 'negative') end(() => reject(new UnitRefused(unit, said.code, said.message)));
          else if (said.kind === 'data') end(() => resolve(said.bytes));
        }
      };
      this.#send({ id: unit.requestId, data: split.value[0] as FrameData });
    });
  }

  close(): void {
    this.#socket.destroy();
  }

  #send(frame: CanFrame): void {
    this.#socket.write(writeFrame(frame));
  }

  #take(chunk: Buffer): void {
    const { frames, rest } = readFrames(Buffer.concat([this.#bytes, chunk]));
    this.#bytes = Buffer.from(rest);
    for (const frame of frames) this.#onFrame?.(frame);
    if (this.#bytes.length > MOST_WAITING_BYTE) this.#socket.destroy();
  }
}
