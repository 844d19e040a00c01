/** The hash chain: SHA-256 of the previous hash and the RFC 8785 text of the event. The text is what is stored. */
import { createHash } from 'node:crypto';
import type { DeviceWord } from '@estuarine/core';

export interface ChainedEvent {
  readonly stream: string;
  readonly number: number;
  readonly type: string;
  readonly version: number;
  readonly at: string;
  readonly deviceAt: string;
  /** What the device said of itself; left out where it said nothing, so that older texts stay as they are. */
  readonly device?: DeviceWord;
  readonly by: string;
  /** Who sent it for its author; left out where the author did. */
  readonly forwardedBy?: string;
  readonly commandId: string;
  readonly body: unknown;
}

export function chainHash(previous: Buffer, text: string): Buffer {
  return createHash('sha256').update(previous).update(text, 'utf8').digest();
}
