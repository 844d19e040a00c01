/** How faults are made in one part of the core, `ESTUARINE_PART`, and asked of its tests: see `mutate.mjs`. */
const part = process.env.ESTUARINE_PART ?? 'ledger';
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
const tests = [part, ...(SERVES[part] ?? (part.startsWith('job/chapters/') ? ['job/frame'] : []))];

export default {
  testRunner: 'one-process',
  plugins: ['./ops/parts/mutant-runner.mjs'],
  mutantRunner: { specs: tests.map((folder) => `core/src/${folder}`) },
  mutate: [`core/src/${part}/**/*.ts`, `!core/src/${part}/**/*.spec.ts`],
  // words for people are not checked letter by letter
  mutator: { excludedMutations: ['StringLiteral'] },
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  // the same condition as in tsconfig: workspace packages are read from their TypeScript source
  testRunnerNodeArgs: ['--conditions=@estuarine/source', '--import', 'tsx', '--no-warnings'],
  incremental: true,
  incrementalFile: `node_modules/.cache/mutate/${part}.incremental.json`,
  // not under node_modules: no test is looked for there
  tempDirName: 'var/mutate',
  reporters: ['json', 'progress-append-only'],
  jsonReporter: { fileName: `node_modules/.cache/mutate/${part}.json` },
  concurrency: 2,
  timeoutMS: 4_000,
  ignorePatterns: ['var', 'docs', 'e2e', 'web', 'server', 'contract', '**/dist', '.git'],
  allowConsoleColors: false,
};
