/**
 * fast-check, with the seeds that `npm test` gives: Jest loads this file wherever a test imports `fast-check`. Each property is checked with every seed
 * of TAWNY_SEEDS, and with TAWNY_RUNS times the runs that it asks for. Without these variables fast-check chooses a seed itself.
 */
import * as real from '../node_modules/fast-check/lib/fast-check.js';
import { readSeeds, RUNS, SEEDS } from './seeds.js';

// eslint-disable-next-line no-restricted-syntax -- It stands in for the whole package.
export * from '../node_modules/fast-check/lib/fast-check.js';

const FAST_CHECK_RUNS = 100;
const seeds = readSeeds(process.env[SEEDS]);
const times = Number(process.env[RUNS] ?? 1);

type Property = real.IRawProperty<unknown>;
type Parameters = real.Parameters<unknown>;

/** Checks a property with every seed. One that is given a path is a counterexample that is looked at, and is run as it is. */
export function assert(property: Property, parameters: Parameters = {}): Promise<void> | void {
  if (seeds.length === 0 || parameters.path !== undefined) return real.assert(property, parameters);
  const asked = parameters.numRuns ?? real.readConfigureGlobal().numRuns ?? FAST_CHECK_RUNS;
  const withSeed = (seed: number): Promise<void> | void =>
    real.assert(property, { ...parameters, seed, numRuns: asked * times });
  if (property.isAsync())
    return seeds.reduce<Promise<void>>(
      (before, seed) => before.then(() => withSeed(seed)),
      Promise.resolve(),
    );
  for (const seed of seeds) void withSeed(seed);
}

// eslint-disable-next-line no-restricted-syntax -- Tests import the package so.
export default { ...real.default, assert };
