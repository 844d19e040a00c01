/** Runs programs and waits for them. */
import { spawn } from 'node:child_process';
import net from 'node:net';
import { keepLog, ROOT, Stop } from './say.mjs';

/** Runs a command in the project and gives its exit code; with `quiet` its output comes back instead of being shown. */
export function run(command, args, { env = {}, quiet = false, cwd = ROOT } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd,
      env: { ...process.env, ...env },
      stdio: ['ignore', quiet ? 'pipe' : 'inherit', quiet ? 'pipe' : 'inherit'],
    });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    const pass = (signal) => child.kill(signal);
    for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, pass);
    child.once('error', reject);
    child.once('close', (code, signal) => {
      for (const s of ['SIGINT', 'SIGTERM']) process.off(s, pass);
      resolve({ code: signal ? 1 : (code ?? 1), output });
    });
  });
}

/** Runs a command that must succeed; `what` names it in the sentence that stops the script otherwise. */
export async function must(what, command, args, options = {}) {
  const { code, output } = await run(command, args, options).catch((error) => {
    throw new Stop(`${what} could not be started: ${error.message}.`);
  });
  if (code === 0) return output;
  if (/ENOSPC|no space left/i.test(output)) throw new Stop(`${what} failed: the disk is full. Free some space and run the command again.`);
  throw new Stop(`${what} failed. ${keepLog(what, output)}`);
}

/** A port of loopback that nobody listens on now. */
export function findFreePort() {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

export function isPortFree(port) {
  return new Promise((resolve) => {
    const server = net.createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
