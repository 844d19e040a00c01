/** How the mutation tool is kept to a sample of the faults: one of so many, drawn by what it is, so that the same are drawn each time. */
import { commonTokens, declareClassPlugin, PluginKind, tokens } from '@stryker-mutator/api/plugin';
import { CheckStatus } from '@stryker-mutator/api/check';
import { createHash } from 'node:crypto';

class FaultSample {
  static inject = tokens(commonTokens.options);
  #every;

  constructor({ faultSample }) {
    this.#every = faultSample.every;
  }

  init() {
    return Promise.resolve();
  }

  /** One that is not drawn is answered as one that does not compile: the tool counts it nowhere. */
  check(mutants) {
    const notDrawn = { status: CheckStatus.CompileError, reason: 'not drawn' };
    return Promise.resolve(Object.fromEntries(mutants.map((m) => [m.id, this.#isDrawn(m) ? { status: CheckStatus.Passed } : notDrawn])));
  }

  #isDrawn({ fileName, location, replacement }) {
    const name = JSON.stringify([fileName.split(/[\\/]/).slice(-2), location, replacement]);
    return createHash('sha256').update(name).digest().readUInt32BE() % this.#every === 0;
  }
}

export const strykerPlugins = [declareClassPlugin(PluginKind.Checker, 'sample', FaultSample)];
export const strykerValidationSchema = { properties: { faultSample: { type: 'object' } } };
