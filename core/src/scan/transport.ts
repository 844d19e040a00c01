/**
 * Messages over CAN frames of eight bytes: single frames, and long messages as a first frame with consecutive ones after the other side
 * let them flow (ISO 15765-2, from memory).
 */
import { answer, refuse, type Result } from '../result.ts';

/** Data of one classical CAN frame, up to eight bytes. */
export type FrameData = readonly number[];

const FRAME_BYTE = 8;
/** Twelve bits of length. */
const MOST_BYTE = 0xfff;
const [SINGLE, FIRST, CONSECUTIVE, FLOW] = [0x0, 0x1, 0x2, 0x3];
const PADDING = 0xcc;

/** Go on with all that is left, without a pause. */
export const FLOW_ON: FrameData = pad([FLOW << 4, 0, 0]);

function pad(bytes: readonly number[]): FrameData {
  return [...bytes, ...Array.from({ length: FRAME_BYTE - bytes.length }, () => PADDING)];
}

/** Whether a frame lets the sender of a long message go on. */
export function isFlowOn(data: FrameData): boolean {
  return data[0] === FLOW << 4;
}

/** The frames of a message, in order. A long one waits for {@link isFlowOn} behind its first. Refusals: `empty`, `tooLarge`. */
export function splitMessage(bytes: readonly number[]): Result<readonly FrameData[]> {
  const { length } = bytes;
  if (length === 0) return refuse('empty', 'A message has at least one byte.');
  if (length > MOST_BYTE) return refuse('tooLarge', `A message has up to ${MOST_BYTE} bytes, this one ${length}.`);
  if (length < FRAME_BYTE) return answer([pad([(SINGLE << 4) | length, ...bytes])]);
  const frames = [[(FIRST << 4) | (length >> 8), length & 0xff, ...bytes.slice(0, 6)]];
  for (let at = 6, turn = 1; at < length; at += 7, turn = (turn + 1) % 16)
    frames.push([(CONSECUTIVE << 4) | turn, ...bytes.slice(at, at + 7)]);
  return answer(frames.map(pad));
}

/** What became of a frame: more are awaited, the sender waits to be let on, or the message is whole. */
export type Joined =
  | { readonly kind: 'more' }
  | { readonly kind: 'letOn' }
  | { readonly kind: 'whole'; readonly bytes: readonly number[] }
  | { readonly kind: 'broken'; readonly message: string };

/** Puts frames of one sender together. After `broken` it starts anew. */
export class MessageJoiner {
  #bytes: number[] = [];
  #length = 0;
  #turn = 0;

  take(data: FrameData): Joined {
    const [head = 0, second = 0] = data;
    switch (head >> 4) {
      case SINGLE: {
        const length = head & 0xf;
        this.#length = 0;
        if (length === 0 || length >= FRAME_BYTE || data.length <= length) return this.#break('A single frame without its bytes came.');
        return { kind: 'whole', bytes: data.slice(1, 1 + length) };
      }
      case FIRST:
        this.#length = ((head & 0xf) << 8) | second;
        this.#bytes = data.slice(2);
        this.#turn = 1;
        if (this.#length < FRAME_BYTE || data.length < FRAME_BYTE) return this.#break('A first frame of a short message came.');
        return { kind: 'letOn' };
      case CONSECUTIVE:
        if (this.#length === 0) return this.#break('A frame came that follows none.');
        if ((head & 0xf) !== this.#turn) return this.#break('A frame of a long message was lost.');
        this.#turn = (this.#turn + 1) % 16;
        this.#bytes.push(...data.slice(1));
        if (this.#bytes.length < this.#length) return { kind: 'more' };
        return this.#end();
      default:
        return { kind: 'more' };
    }
  }

  #end(): Joined {
    const bytes = this.#bytes.slice(0, this.#length);
    this.#length = 0;
    return { kind: 'whole', bytes };
  }

  #break(message: string): Joined {
    this.#length = 0;
    return { kind: 'broken', message };
  }
}
