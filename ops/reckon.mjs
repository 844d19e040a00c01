/** `npm run -s reckon -- <name> < in.json`: one calculation, JSON in, JSON out. Without a name it lists them. */
import { checkNode, ensureBuilt, ensureNodeModules } from './parts/setup.mjs';
import { main } from './parts/say.mjs';

await main(async () => {
  checkNode();
  await ensureNodeModules();
  await ensureBuilt({ web: false });
  const { findEntry, REGISTRY } = await import('@estuarine/core/reckon');
  const name = process.argv[2];
  if (name === undefined) {
    for (const entry of REGISTRY) process.stdout.write(`${entry.name}\t${entry.purpose}\n`);
    return 0;
  }
  const entry = findEntry(name);
  if (!entry) return refuse(`There is no calculation "${name}". Without a name all are listed.`);
  let input;
  try {
    const chunks = [];
    for await (const chunk of process.stdin) chunks.push(chunk);
    input = JSON.parse(Buffer.concat(chunks).toString('utf8'));
  } catch (error) {
    return refuse(`The input is not JSON: ${error.message}`);
  }
  const result = entry.run(input, { now: () => performance.now() });
  if (result.kind === 'refused') return refuse(result.path.length > 0 ? `${result.path.join('.')}: ${result.message}` : result.message);
  process.stdout.write(`${JSON.stringify(result.value)}\n`);
  return 0;
});

function refuse(reason) {
  process.stderr.write(`${reason}\n`);
  return 2;
}
