/** Whether bytes are a photograph that may be kept: a JPEG that decodes, small enough, and nothing besides. */
import { findBesides, PHOTO } from '@estuarine/core';
import sharp, { type Sharp } from 'sharp';
import { HttpProblem } from '../problem.ts';

/** Longest side of the copy for print, in pixels. */
const PRINT_SIDE = 1200;
/** Hardly to be told from what was sent, and no larger than that by much. */
const KEPT_QUALITY = 88;

export interface Picture {
  /** What is kept: written anew from the pixels, so that nothing which no eye sees in what was sent is in it. */
  readonly picture: Buffer;
  readonly width: number;
  readonly height: number;
  /** A JPEG for print; null where the picture is no larger than that. */
  readonly print: Buffer | null;
  /** A JPEG for lists. */
  readonly small: Buffer;
}

/** Throws a problem that names the reason: 415 for what is no JPEG, 422 for one that does not fit. */
export async function readPicture(bytes: Buffer): Promise<Picture> {
  // the head of every JPEG; what else may be hidden in a picture is not even handed to the decoder
  if (bytes.length < 4 || bytes.readUInt16BE(0) !== 0xffd8)
    throw new HttpProblem(415, 'contentType', 'Only JPEG pictures are taken here. Nothing was kept.');
  const besides = findBesides(bytes);
  if (besides.kind === 'refused') throw besides.code === 'unreadable' ? unreadable() : moreThanPicture(besides.message);
  const image = sharp(bytes, { failOn: 'error', limitInputPixels: PHOTO.longestSide ** 2 });
  try {
    const { width, height } = await image.metadata();
    if (Math.max(width, height) > PHOTO.longestSide)
      throw new HttpProblem(
        422,
        'tooLarge',
        `The picture is ${width} by ${height}; the longest side goes to ${PHOTO.longestSide}. Nothing was kept.`,
      );
    const picture = await image.clone().jpeg({ quality: KEPT_QUALITY }).toBuffer();
    const print = Math.max(width, height) > PRINT_SIDE ? await copyOf(image, PRINT_SIDE, 78) : null;
    const small = await copyOf(image, PHOTO.smallSide, 70);
    return { picture, width, height, print, small };
  } catch (error) {
    if (error instanceof HttpProblem) throw error;
    throw unreadable();
  }
}

function copyOf(image: Sharp, side: number, quality: number): Promise<Buffer> {
  return image.clone().resize(side, side, { fit: 'inside', withoutEnlargement: true }).jpeg({ quality }).toBuffer();
}

function unreadable(): HttpProblem {
  return new HttpProblem(422, 'unreadable', 'The picture cannot be read: it is cut short or damaged. Nothing was kept.');
}

function moreThanPicture(what: string): HttpProblem {
  return new HttpProblem(
    422,
    'cameraData',
    `The picture carries more than what it shows, and that may be where it was taken. ${what} Send it without. Nothing was kept.`,
  );
}
