/** The certificate that the shop's network is served with: supplied, or made once for an address by openssl and kept under var/. */
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { must } from './run.mjs';
import { ROOT, Stop } from './say.mjs';

const DAYS = 825;

/** IPv4 addresses of this machine on its networks, loopback left out. */
export function listAddresses() {
  return Object.values(os.networkInterfaces())
    .flat()
    .filter((i) => i && i.family === 'IPv4' && !i.internal)
    .map((i) => i.address);
}

/** The one address to serve: as asked, or the only one there is. */
export function chooseAddress(asked) {
  const known = ['127.0.0.1', ...listAddresses()];
  if (asked !== undefined) {
    if (known.includes(asked)) return asked;
    throw new Stop(`${asked} is no address of this machine. It has ${known.join(', ')}.`);
  }
  const [first, ...more] = listAddresses();
  if (first === undefined) throw new Stop('This machine is on no network. Connect it, or start without --shop.');
  if (more.length > 0) throw new Stop(`This machine has several addresses. Choose one: npm start -- --shop --address ${first}`);
  return first;
}

/** Paths of key and certificate. Made for the address where none were supplied and none stand. */
export async function ensureCertificate(address, supplied = {}) {
  if (supplied.key || supplied.cert) {
    for (const file of [supplied.key, supplied.cert])
      if (!file || !fs.existsSync(file)) throw new Stop('Give both --key and --cert, each a file that is there.');
    return { key: path.resolve(supplied.key), cert: path.resolve(supplied.cert) };
  }
  const folder = path.join(ROOT, 'var/tls');
  const files = { key: path.join(folder, `${address}.key`), cert: path.join(folder, `${address}.crt`) };
  if (fs.existsSync(files.key) && fs.existsSync(files.cert)) return files;
  fs.mkdirSync(folder, { recursive: true, mode: 0o700 });
  await must(
    'Making the certificate (it needs the program openssl)',
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-sha256', '-days', String(DAYS)],
      ...['-subj', '/CN=Estuarine of this shop', '-addext', `subjectAltName=IP:${address}`],
      ...['-addext', 'extendedKeyUsage=serverAuth', '-keyout', files.key, '-out', files.cert],
    ],
    { quiet: true },
  );
  fs.chmodSync(files.key, 0o600);
  return files;
}
