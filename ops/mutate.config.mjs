/**
 * How faults are made in one part of the core or room of the server, `ESTUARINE_PART`, and asked of its tests, all of them or one of
 * `ESTUARINE_EVERY`: see `mutate.mjs`.
 */
const part = process.env.ESTUARINE_PART ?? 'ledger';
const every = Number(process.env.ESTUARINE_EVERY ?? 1);
/** What of a job each part serves: the tests of that are the part's as well. Frame and line join all of it. */
const SERVES = {
  pack: ['job/chapters/open', 'job/chapters/strip', 'job/chapters/rebuild'],
  isolate: ['job/chapters/isolate'],
  ledger: ['job/chapters/strip', 'job/chapters/refit'],
  reading: ['job/chapters/sweep'],
  match: ['job/chapters/plan'],
  bars: ['job/chapters/rebuild'],
  torque: ['job/chapters/rebuild'],
  scan: ['job/line', 'job/chapters/refit'],
  cool: ['job/chapters/cool'],
  coolant: ['job/chapters/rebuild'],
  warranty: ['job/line'],
  shop: ['job/chapters/hand-over', 'job/chapters/strip'],
  'job/frame': ['job/chapters', 'job/line', 'report'],
  'job/line': ['job/chapters', 'job/frame', 'report'],
};
/** The specs of a room of the server, which are asked of its routes and against a database. */
const ROOM_SPECS = {
  'server/customers': ['people', 'kinds'],
  'server/figures': ['figures'],
  'server/gear': ['shop-acts'],
  'server/instruments': ['instruments', 'people'],
  'server/jobs': ['http', 'log', 'once', 'batches', 'kinds', 'people', 'stream', 'shop-before-chapters'],
  'server/log': ['tail', 'log', 'once', 'batches', 'archive', 'shop-before-chapters'],
  'server/persons': ['people', 'http', 'batches'],
  'server/photos': ['photos'],
  'server/policy': ['shop-acts', 'people', 'once'],
  'server/profiles': ['shop-acts', 'kinds', 'once'],
  'server/reckon': ['http'],
  'server/record': ['archive', 'hand-over'],
  'server/report': ['reports', 'hand-over'],
  'server/seal': ['hand-over'],
  'server/shell': [],
  'server/shop': ['shop-acts', 'http', 'log', 'once', 'people', 'shop-before-chapters'],
  'server/stock': ['shop-acts', 'http', 'log', 'once'],
  'server/stream': ['stream', 'once'],
  'server/terms': ['shop-acts'],
};
export const ROOMS = Object.keys(ROOM_SPECS);
const isRoom = ROOMS.includes(part);
const code = isRoom ? `server/src/${part.slice('server/'.length)}` : `core/src/${part}`;
const specs = isRoom
  ? [code, ...['routes', ...ROOM_SPECS[part]].map((name) => `server/test/${name}.spec.ts`)]
  : [part, ...(SERVES[part] ?? (part.startsWith('job/chapters/') ? ['job/frame', 'job/line'] : []))].map((folder) => `core/src/${folder}`);

export default {
  testRunner: 'one-process',
  plugins: ['./ops/parts/mutant-runner.mjs', './ops/parts/fault-sample.mjs'],
  checkers: every > 1 ? ['sample'] : [],
  faultSample: { every },
  mutantRunner: { specs },
  // what runs in a worker is not reached from here
  mutate: [`${code}/**/*.ts`, `!${code}/**/*.spec.ts`, `!${code}/**/worker.ts`],
  // words for people are not checked letter by letter
  mutator: { excludedMutations: ['StringLiteral'] },
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  // the same condition as in tsconfig: workspace packages are read from their TypeScript source
  testRunnerNodeArgs: ['--conditions=@estuarine/source', '--import', 'tsx', '--no-warnings'],
  // what was not drawn would be taken for known
  incremental: every === 1,
  incrementalFile: `node_modules/.cache/mutate/${part}.incremental.json`,
  // not under node_modules: no test is looked for there
  tempDirName: 'var/mutate',
  reporters: ['json', 'progress-append-only'],
  jsonReporter: { fileName: `node_modules/.cache/mutate/${part}.json` },
  concurrency: Number(process.env.ESTUARINE_WORKERS ?? 2),
  timeoutMS: 4_000,
  ignorePatterns: ['var', 'e2e', 'web', ...(isRoom ? [] : ['docs', 'server', 'contract']), '**/dist', '.git'],
  allowConsoleColors: false,
};
