/** How the scripts speak and stop: one sentence, exit 1. */
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');

export function say(sentence) {
  process.stderr.write(`${sentence}\n`);
}

/** Something a person must see to before it can go on. */
export class Stop extends Error {}

/** Runs a script's work; a Stop or a full disk ends it with its sentence, anything else with its stack. */
export async function main(work) {
  try {
    process.exitCode = (await work()) ?? 0;
  } catch (error) {
    if (error instanceof Stop) say(error.message);
    else if (error?.code === 'ENOSPC') say('The disk is full. Free some space and run the command again; nothing that was kept is lost.');
    else say(error?.stack ?? String(error));
    process.exitCode = 1;
  }
}
