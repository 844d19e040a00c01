/** A photograph made fit to be kept: turned upright, no larger than the server takes, and without what the camera wrote beside it. */
import { leaveOutBesides, PHOTO, refuse, answer, type Result } from '@estuarine/core';

export interface Shrunk {
  readonly blob: Blob;
  readonly width: number;
  readonly height: number;
}

/** A file larger than this is not even decoded. */
const MOST_BYTE = 60 * 1024 * 1024;
const QUALITIES = [0.86, 0.75, 0.62, 0.5];

/** Width and height within a longest side, in whole pixels. */
export function fitWithin(width: number, height: number, longest: number): { width: number; height: number } {
  const scale = Math.min(1, longest / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/**
 * Draws the picture anew, so that nothing but its pixels is left; the browser turns it as its camera asked. Refusals: `tooLarge` for a
 * file beyond 60 MB, `unreadable` for what no browser shows as a picture.
 */
export async function shrinkPhoto(file: Blob): Promise<Result<Shrunk>> {
  if (file.size > MOST_BYTE)
    return refuse(
      'tooLarge',
      `The file has ${Math.round(file.size / 1024 / 1024)} MB; a photograph goes to ${MOST_BYTE / 1024 / 1024} MB.`,
    );
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    return refuse('unreadable', 'This file cannot be shown as a picture: it is damaged, or of a format that this browser does not know.');
  }
  try {
    let longest: number = PHOTO.longestSide;
    for (;;) {
      const { width, height } = fitWithin(bitmap.width, bitmap.height, longest);
      const canvas = new OffscreenCanvas(width, height);
      canvas.getContext('2d')?.drawImage(bitmap, 0, 0, width, height);
      for (const quality of QUALITIES) {
        const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality });
        if (blob.size > PHOTO.byte) continue;
        // some browsers write colours and sizes beside the picture: the server takes nothing but what is seen
        const left = leaveOutBesides(new Uint8Array(await blob.arrayBuffer()));
        if (left.kind === 'refused') return left;
        return answer({ blob: new Blob([left.value.slice()], { type: 'image/jpeg' }), width, height });
      }
      longest = Math.round(longest * 0.7);
    }
  } finally {
    bitmap.close();
  }
}

/** SHA-256 of the bytes, in hex. */
export async function hashBlob(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
  return Array.from(new Uint8Array(digest), (b) => b.toString(16).padStart(2, '0')).join('');
}
