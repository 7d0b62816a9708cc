/** Core's tests alone, for the mutation tester: scripts/mutate writes the one file that imports them all, which is quicker than to load each. */
import config from './jest.config.mjs';

export default {
  ...config.projects.find(({ displayName }) => displayName === 'core'),
  testMatch: ['<rootDir>/core/all.mutation.ts'],
  setupFiles: ['<rootDir>/core/fewer-runs.test-helper.ts'],
};
