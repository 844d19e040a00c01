// Builds the page that checks a sealed record: one file with its script inside, and a policy that lets nothing else run or be fetched.
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { build } from 'esbuild';

const out = 'web/dist/check';
const { outputFiles } = await build({
  entryPoints: ['web/src/check/page.ts'],
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2022',
  charset: 'ascii',
  write: false,
});
const page = fs.readFileSync('web/src/check/check.html', 'utf8');
const script = outputFiles[0].text.trim().replaceAll('</script', '<\\/script');
const style = page.match(/<style>(.*?)<\/style>/s)[1];
const hash = (text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
const policy = `default-src 'none'; script-src ${hash(script)}; style-src ${hash(style)}; base-uri 'none'; form-action 'none'`;
fs.mkdirSync(out, { recursive: true });
fs.writeFileSync(
  `${out}/check.html`,
  page.replace('POLICY', () => policy).replace(/<script>[^<]*SCRIPT[^<]*<\/script>/, () => `<script>${script}</script>`),
);
