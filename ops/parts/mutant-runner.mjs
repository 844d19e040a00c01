/**
 * How the mutation tool asks the tests of the core: all in one process, which reads them once. The core holds nothing that a fault could
 * leave behind, so that no fault needs a process of its own; a test that does not pass twice in a row is not asked.
 */
import { INSTRUMENTER_CONSTANTS } from '@stryker-mutator/api/core';
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';
import { determineHitLimitReached, DryRunStatus, TestStatus, toMutantRunResult } from '@stryker-mutator/api/test-runner';
import { jestExpect } from '@jest/expect';
import * as circus from 'jest-circus';
import fs from 'node:fs';
import path from 'node:path';
import { pathToFileURL } from 'node:url';

/** What the instrumented code reads and writes. */
const context = (globalThis[INSTRUMENTER_CONSTANTS.NAMESPACE] ??= {});
const { describe, it, test } = circus;
Object.assign(globalThis, { describe, it, test, expect: jestExpect });

class MutantRunner {
  static inject = tokens(commonTokens.options);
  #specs;
  /** By id: what a test does. */
  #tests = new Map();

  constructor({ mutantRunner }) {
    this.#specs = mutantRunner.specs;
  }

  capabilities() {
    return { reloadEnvironment: false };
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
      const isRepeatable = result.status === TestStatus.Failed || (await this.#ask(id)).status === TestStatus.Success;
      delete context.currentTestId;
      tests.push(isRepeatable ? result : { ...result, status: TestStatus.Skipped });
      if (!isRepeatable) this.#tests.delete(id);
    }
    return { status: DryRunStatus.Complete, tests, mutantCoverage: context.mutantCoverage };
  }

  async mutantRun({ activeMutant, testFilter, disableBail, hitLimit }) {
    context.activeMutant = String(activeMutant.id);
    Object.assign(context, { hitLimit, hitCount: hitLimit ? 0 : undefined });
    const tests = [];
    try {
      for (const id of testFilter ?? this.#tests.keys()) {
        if (!this.#tests.has(id)) continue;
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
    const result = (more) => ({ id, name: id, timeSpentMs: performance.now() - from, ...more });
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
  const found = fs.readdirSync(folder, { recursive: true }).filter((name) => name.endsWith('.spec.ts') && !name.endsWith('truth.spec.ts'));
  return found.sort().map((name) => path.join(folder, name));
}

export const strykerPlugins = [declareClassPlugin(PluginKind.TestRunner, 'one-process', MutantRunner)];
