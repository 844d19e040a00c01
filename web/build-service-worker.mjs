// Bundles the service worker with the list of built files that it keeps on the device.
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { build } from 'esbuild';

const root = 'web/dist/browser';
const kept = fs
  .readdirSync(root, { recursive: true })
  .map((name) => name.split(path.sep).join('/'))
  .filter((name) => /\.(js|css|svg|woff2|webmanifest)$/.test(name) && !name.startsWith('vendor/') && name !== 'service-worker.js')
  .map((name) => ({
    url: `/${name}`,
    revision: /-[A-Z0-9]{8}\.\w+$/.test(name)
      ? null
      : createHash('sha256')
          .update(fs.readFileSync(path.join(root, name)))
          .digest('hex')
          .slice(0, 16),
  }));

await build({
  entryPoints: ['web/src/service-worker/service-worker.worker.ts'],
  outfile: `${root}/service-worker.js`,
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2022',
  define: { 'self.__WB_MANIFEST': JSON.stringify(kept), 'process.env.NODE_ENV': '"production"' },
});
