/** Core's tests alone, for the mutation tester. */
import config from './jest.config.mjs';

export default {
  ...config.projects.find(({ displayName }) => displayName === 'core'),
  setupFiles: ['<rootDir>/core/fewer-runs.test-helper.ts'],
};
