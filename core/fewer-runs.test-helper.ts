/** Loaded by Jest before each file of tests where the mutation tester runs them. */
import fc from 'fast-check';

fc.configureGlobal({ numRuns: 10 });
