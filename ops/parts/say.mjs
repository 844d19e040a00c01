/** How the scripts speak and stop: one sentence, exit 1. */
import fs from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');

export function say(sentence) {
  process.stderr.write(`${sentence}\n`);
}

let showsTools = false;

/** For who works on Estuarine: what a tool said when it failed is shown, not only kept. */
export function showTools() {
  showsTools = true;
}

/** Keeps what a tool said under var/log and says where, in words that end a sentence about what failed. */
export function keepLog(name, text) {
  const file = path.join('var/log', `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.log`);
  try {
    fs.mkdirSync(path.join(ROOT, 'var/log'), { recursive: true });
    fs.writeFileSync(path.join(ROOT, file), text);
  } catch {
    return 'What it said could not be kept.';
  }
  if (showsTools) process.stderr.write(`${text.split('\n').slice(-40).join('\n')}\n`);
  return `What it said is in ${file}.`;
}

/** Something a person must see to before it can go on. */
export class Stop extends Error {}

/** Runs a script's work; a Stop or a full disk ends it with its sentence, anything else with its own and where its stack is. */
export async function main(work) {
  try {
    process.exitCode = (await work()) ?? 0;
  } catch (error) {
    if (error instanceof Stop) say(error.message);
    else if (error?.code === 'ENOSPC') say('The disk is full. Free some space and run the command again; nothing that was kept is lost.');
    else say(`This failed: ${error?.message ?? error}. ${keepLog('failure', error?.stack ?? String(error))}`);
    process.exitCode = 1;
  }
}
