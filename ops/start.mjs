/**
 * `npm start`: the real thing, without demonstration data, for this machine alone. `-- --shop` serves the shop's network by TLS on one
 * address (`--address`), with a certificate made at the first start or supplied (`--key`, `--cert`).
 */
import { parseArgs } from 'node:util';
import { chooseAddress, ensureCertificate } from './parts/certificate.mjs';
import { main, say, Stop } from './parts/say.mjs';
import { setUp } from './parts/setup.mjs';
import { claim, Supervisor } from './parts/supervisor.mjs';

function readArguments() {
  const text = { type: 'string' };
  try {
    return parseArgs({ options: { shop: { type: 'boolean' }, address: text, key: text, cert: text } }).values;
  } catch (error) {
    throw new Stop(`${error.message} Use: npm start, or npm start -- --shop [--address …] [--key … --cert …]`);
  }
}

await main(async () => {
  const { shop, address, key, cert } = readArguments();
  if (!shop && (address || key || cert))
    throw new Stop('An address or a certificate is for --shop; without it only this machine is served.');
  const running = await claim('shop');
  if (running) {
    say(`Estuarine is running already at ${running}`);
    return 0;
  }
  const host = shop ? chooseAddress(address) : undefined;
  await setUp({ packages: host ? ['postgresql', 'openssl'] : ['postgresql'] });
  const tls = host ? await ensureCertificate(host, { key, cert }) : null;
  const url = await new Supervisor({ purpose: 'shop', port: Number(process.env.PORT ?? 4170), host, tls }).start();
  say(`\nEstuarine is ready at ${url}. Ctrl-C stops it.`);
  if (tls && !key)
    say('Its certificate was made here: a device that opens it the first time asks whether to trust it. Compare the address, then accept.');
});
