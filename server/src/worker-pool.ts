/** A pool of workers over a module beside the one that asks: compiled, or its source where that is what runs. */
import { Piscina } from 'piscina';

/**
 * @param from `import.meta.url` of the module that asks
 * @param name of the worker's module, without ending: `./worker`
 */
export function makeWorkerPool(from: string, name: string): Piscina {
  const isSource = from.endsWith('.ts');
  return new Piscina({
    filename: new URL(`${name}${isSource ? '.ts' : '.js'}`, from).href,
    maxThreads: 2,
    ...(isSource ? { execArgv: ['--conditions=@estuarine/source', '--import', 'tsx'] } : {}),
  });
}
