/**
 * How the mutation tool asks the tests of the core: all in one process, which reads them once. The core holds nothing that a fault could
 * leave behind, so that no fault needs a process of its own. Not asked are tests that do not pass twice in a row, and long ones: random
 * work against a model goes over everything, and would be asked of every fault.
 */
import { INSTRUMENTER_CONSTANTS } from '@stryker-mutator/api/core';
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';
import { determineHitLimitReached, DryRunStatus, TestStatus, toMutantRunResult } from '@stryker-mutator/api/test-runner';
import { jestExpect } from '@jest/expect';
import * as circus from 'jest-circus';
import fs from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';

const MOST_MILLISECOND = 1500;

/** What the instrumented code reads and writes. */
const context = (globalThis[INSTRUMENTER_CONSTANTS.NAMESPACE] ??= {});
const { describe, it, test } = circus;
Object.assign(globalThis, { describe, it, test, expect: jestExpect });

class MutantRunner {
  static inject = tokens(commonTokens.options);
  #specs;
  /** By id: what a test does. */
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
      this.#collect(circus.getState().rootDescribeBlock, file);
    }
  }

  #collect(block, name) {
    if (block.hooks.length > 0) throw new Error(`${name}: what goes before or after a test is not asked here`);
    for (const child of block.children) {
      const id = `${name} > ${child.name}`;
      if (child.type === 'describeBlock') this.#collect(child, id);
      else if (child.mode !== 'skip') this.#tests.set(this.#tests.has(id) ? `${id} (${this.#tests.size})` : id, child.fn);
    }
  }

  async dryRun({ coverageAnalysis }) {
    const tests = [];
    for (const id of this.#tests.keys()) {
      // whatever is run while no test is named counts as run at the start
      if (coverageAnalysis === 'perTest') context.currentTestId = id;
      const result = await this.#ask(id);
      const isShort = result.timeSpentMs <= MOST_MILLISECOND;
      const isRepeatable = result.status === TestStatus.Failed || (isShort && (await this.#ask(id)).status === TestStatus.Success);
      delete context.currentTestId;
      if (isRepeatable) tests.push(result);
      // the tool asks whatever covers a fault
      else delete context.mutantCoverage?.perTest[id];
    }
    return { status: DryRunStatus.Complete, tests, mutantCoverage: context.mutantCoverage };
  }

  async mutantRun({ activeMutant, testFilter, disableBail, hitLimit }) {
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
      this.#took.set(id, timeSpentMs);
      return { id, name: id, timeSpentMs, ...more };
    };
    try {
      await this.#tests.get(id)();
      return result({ status: TestStatus.Success });
    } catch (error) {
      return result({ status: TestStatus.Failed, failureMessage: String(error?.message ?? error) });
    }
  }
}

/** Spec files below a folder, in order. */
function specsIn(folder) {
  const found = fs.readdirSync(folder, { recursive: true }).filter((name) => name.endsWith('.spec.ts'));
  return found.sort().map((name) => path.join(folder, name));
}

export const strykerPlugins = [declareClassPlugin(PluginKind.TestRunner, 'one-process', MutantRunner)];
export const strykerValidationSchema = { properties: { mutantRunner: { type: 'object' } } };
