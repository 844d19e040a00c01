/**
 * How the mutation tool asks the tests: all in one process, which reads them once. What is asked is a test by itself; where a spec makes
 * something for its tests, as a database, its tests build upon one another, and all of the spec is asked, up to the first that fails. The
 * core holds nothing that a fault could leave behind, and specs of the server make all anew, so that no fault needs a process of its own.
 * Not asked are tests that do not pass twice in a row, and long ones: random work against a model goes over everything, and would be
 * asked of every fault.
 */
import { INSTRUMENTER_CONSTANTS } from '@stryker-mutator/api/core';
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';
import { determineHitLimitReached, DryRunStatus, TestStatus, toMutantRunResult } from '@stryker-mutator/api/test-runner';
import { jestExpect } from '@jest/expect';
import * as circus from 'jest-circus';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { register } from 'node:module';
import path from 'node:path';
import { pathToFileURL } from 'node:url';

const MOST_MILLISECOND = 1500;
/** A spec that is asked as a whole may take this much more than it took before a fault was made. */
const SLACK = { factor: 3, millisecond: 5000 };
/** Beside the code as the tool copied it: what the run without faults found. */
const FOUND = 'without-faults.json';

/** What the instrumented code reads and writes. */
const context = (globalThis[INSTRUMENTER_CONSTANTS.NAMESPACE] ??= {});
const { describe, it, test, beforeAll, afterAll, beforeEach, afterEach } = circus;
Object.assign(globalThis, { describe, it, test, beforeAll, afterAll, beforeEach, afterEach, expect: jestExpect });
const globals = JSON.stringify(new URL('jest-globals.mjs', import.meta.url).href);
const hook = `export const resolve = (what, from, next) => (what === '@jest/globals' ? { url: ${globals}, shortCircuit: true } : next(what, from));`;
register(`data:text/javascript,${encodeURIComponent(hook)}`);

class MutantRunner {
  static inject = tokens(commonTokens.options);
  #specs;
  /** By id: what a test, or a spec as a whole, does. */
  #tests = new Map();
  /** By id: how long it took last; the short ones are asked first. */
  #took = new Map();

  constructor({ mutantRunner }) {
    this.#specs = mutantRunner.specs;
  }

  /** Faults that only show while files are read are ignored: nothing has to be read anew for the others. */
  capabilities() {
    return { reloadEnvironment: true };
  }

  async init() {
    for (const file of this.#specs.flatMap(specsIn)) {
      circus.resetState();
      await import(pathToFileURL(path.resolve(file)).href);
      const block = circus.getState().rootDescribeBlock;
      // one that was changed is another, and is asked of what was asked before
      if (hasHooks(block)) this.#tests.set(`${file} ${hashOf(file)}`, new WholeSpec(block));
      else this.#collect(block, file);
    }
  }

  #collect(block, name) {
    for (const child of block.children) {
      const id = `${name} > ${child.name}`;
      if (child.type === 'describeBlock') this.#collect(child, id);
      else if (child.mode !== 'skip') this.#tests.set(this.#tests.has(id) ? `${id} (${this.#tests.size})` : id, { run: child.fn });
    }
  }

  async dryRun({ coverageAnalysis }) {
    const tests = [];
    for (const [id, asked] of this.#tests) {
      await asked.leaveOut?.();
      // whatever is run while no test is named counts as run at the start
      if (coverageAnalysis === 'perTest') context.currentTestId = id;
      const result = await this.#ask(id);
      // a spec as a whole has passed before, for what is left out of it
      const isPassed = async () =>
        asked.leaveOut || (result.timeSpentMs <= MOST_MILLISECOND && (await this.#ask(id)).status === TestStatus.Success);
      const isRepeatable = result.status === TestStatus.Failed || (await isPassed());
      delete context.currentTestId;
      if (isRepeatable) tests.push(result);
      // the tool asks whatever covers a fault
      else delete context.mutantCoverage?.perTest[id];
    }
    fs.writeFileSync(FOUND, JSON.stringify([...this.#tests].map(([id, asked]) => [id, this.#took.get(id), asked.leftOut])));
    return { status: DryRunStatus.Complete, tests, mutantCoverage: context.mutantCoverage };
  }

  /** What a run without faults found, perhaps in another process. */
  #learn() {
    if (this.#took.size > 0) return;
    for (const [id, took, leftOut] of JSON.parse(fs.readFileSync(FOUND, 'utf8'))) {
      this.#took.set(id, took);
      const asked = this.#tests.get(id);
      if (asked.leaveOut) asked.leftOut = leftOut;
    }
  }

  async mutantRun({ activeMutant, testFilter, disableBail, hitLimit }) {
    this.#learn();
    context.activeMutant = String(activeMutant.id);
    Object.assign(context, { hitLimit, hitCount: hitLimit ? 0 : undefined });
    const tests = [];
    try {
      const ids = [...(testFilter ?? this.#tests.keys())].sort((a, b) => (this.#took.get(a) ?? 0) - (this.#took.get(b) ?? 0));
      for (const id of ids) {
        tests.push(await this.#ask(id));
        const late = determineHitLimitReached(context.hitCount, context.hitLimit);
        if (late) return toMutantRunResult(late);
        if (!disableBail && tests.at(-1).status === TestStatus.Failed) break;
      }
    } finally {
      delete context.activeMutant;
    }
    return toMutantRunResult({ status: DryRunStatus.Complete, tests }, disableBail);
  }

  async #ask(id) {
    const from = performance.now();
    const result = (more) => {
      const timeSpentMs = performance.now() - from;
      // how long one that fails takes says nothing of it
      if (more.status === TestStatus.Success) this.#took.set(id, timeSpentMs);
      return { id, name: id, timeSpentMs, ...more };
    };
    try {
      await this.#tests.get(id).run(this.#took.get(id));
      return result({ status: TestStatus.Success });
    } catch (error) {
      return result({ status: TestStatus.Failed, failureMessage: String(error?.message ?? error) });
    }
  }
}

/** A spec whose tests build upon what was made before them. */
class WholeSpec {
  #block;
  #numbers = new Map();
  /** Numbers of tests, in the order of the file. */
  leftOut = [];

  constructor(block) {
    this.#block = block;
    this.#number(block);
  }

  #number({ children }) {
    for (const child of children) {
      if (child.type === 'describeBlock') this.#number(child);
      else this.#numbers.set(child, this.#numbers.size);
    }
  }

  /** Finds which of its tests are too long, and which cannot do without those. */
  async leaveOut() {
    for (let isFound = true; isFound;) {
      isFound = false;
      await this.#walk((one, work) => this.#time(work).then((took) => (isFound = this.#judge(one, took) || isFound)));
    }
  }

  /** Whether a test is left out from now on. Before any is, one that fails is a fault of the test, and is asked. */
  #judge(one, took) {
    const isOut = took > MOST_MILLISECOND || (took === null && this.leftOut.length > 0);
    if (isOut) this.leftOut.push(one);
    return isOut;
  }

  async #time(work) {
    const from = performance.now();
    const isPassed = await work().then(
      () => true,
      () => false,
    );
    return isPassed ? performance.now() - from : null;
  }

  /** @param usual how long it takes when all is well, in milliseconds */
  run(usual = Infinity) {
    return guarded(
      this.#walk((_, work) => work()),
      Math.min(2 ** 31 - 1, usual * SLACK.factor + SLACK.millisecond),
    );
  }

  async #walk(ask, block = this.#block, around = []) {
    const hooks = (type) => block.hooks.filter((h) => h.type === type);
    const own = [...around, block];
    let failed = null;
    const note = (error) => (failed ??= { error });
    const work = async () => {
      for (const { fn } of hooks('beforeAll')) await fn();
      for (const child of block.children) {
        const number = this.#numbers.get(child);
        if (child.type === 'describeBlock') await this.#walk(ask, child, own);
        else if (child.mode !== 'skip' && !this.leftOut.includes(number)) await ask(number, () => runTest(child, own));
      }
    };
    await work().catch(note);
    // whatever stands is torn down, also after a fault; what failed first is told
    for (const { fn } of hooks('afterAll')) await Promise.resolve().then(fn).catch(note);
    if (failed) throw failed.error;
  }
}

async function runTest({ fn }, blocks) {
  const hooks = (type) => blocks.flatMap((b) => b.hooks.filter((h) => h.type === type));
  try {
    for (const before of hooks('beforeEach')) await before.fn();
    await fn();
  } finally {
    for (const after of hooks('afterEach')) await after.fn();
  }
}

/** Fails as well where something is thrown that nobody waits for, and where it takes too long. */
async function guarded(work, most) {
  let fail;
  const failed = new Promise((_, reject) => (fail = reject));
  const late = setTimeout(() => fail(new Error('took too long')), most);
  process.on('uncaughtException', fail).on('unhandledRejection', fail);
  try {
    await Promise.race([work, failed]);
  } finally {
    clearTimeout(late);
    await new Promise((resolve) => setImmediate(resolve));
    process.off('uncaughtException', fail).off('unhandledRejection', fail);
  }
}

function hasHooks({ hooks, children }) {
  return hooks.length > 0 || children.some((child) => child.type === 'describeBlock' && hasHooks(child));
}

function hashOf(file) {
  return createHash('sha256').update(fs.readFileSync(file)).digest('hex').slice(0, 8);
}

/** Spec files below a folder, in order; a file is itself. */
function specsIn(folder) {
  if (folder.endsWith('.ts')) return [folder];
  const found = fs.readdirSync(folder, { recursive: true }).filter((name) => name.endsWith('.spec.ts'));
  return found.sort().map((name) => path.join(folder, name));
}

export const strykerPlugins = [declareClassPlugin(PluginKind.TestRunner, 'one-process', MutantRunner)];
export const strykerValidationSchema = { properties: { mutantRunner: { type: 'object' } } };
