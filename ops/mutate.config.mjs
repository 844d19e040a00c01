/** How faults are made in one part of the core, `ESTUARINE_PART`, and asked of its tests: see `mutate.mjs`. */
import jest from '../jest.config.mjs';

const part = process.env.ESTUARINE_PART ?? 'ledger';
/** The chapter that each part serves: its tests are the part's as well. */
const CHAPTERS = { isolate: 'isolate', ledger: 'strip', reading: 'sweep', match: 'plan' };
const tests = [part, ...(CHAPTERS[part] ? [`job/chapters/${CHAPTERS[part]}`] : [])];
const core = jest.projects.find((p) => p.displayName === 'core');

export default {
  testRunner: 'jest',
  plugins: ['@stryker-mutator/jest-runner'],
  mutate: [`core/src/${part}/**/*.ts`, `!core/src/${part}/**/*.spec.ts`],
  // words for people are not checked letter by letter
  mutator: { excludedMutations: ['StringLiteral'] },
  ignoreStatic: true,
  coverageAnalysis: 'perTest',
  jest: {
    projectType: 'custom',
    enableFindRelatedTests: false,
    // random work against a model of the pack goes over everything: it would be asked of every fault
    config: {
      ...core,
      testMatch: tests.map((folder) => `<rootDir>/src/${folder}/**/*.spec.ts`),
      testPathIgnorePatterns: ['truth.spec.ts'],
    },
  },
  testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
  incremental: true,
  incrementalFile: `node_modules/.cache/mutate/${part}.incremental.json`,
  // not under node_modules: no test is looked for there
  tempDirName: 'var/mutate',
  reporters: ['json'],
  jsonReporter: { fileName: `node_modules/.cache/mutate/${part}.json` },
  concurrency: 2,
  timeoutMS: 10_000,
  ignorePatterns: ['var', 'docs', 'e2e', 'web', 'server', 'contract', '**/dist', '.git'],
  allowConsoleColors: false,
};
