/** Jest runs the sources themselves, as ES modules, through swc. */
const transform = {
  '^.+\\.tsx?$': [
    '@swc/jest',
    {
      swcrc: false,
      jsc: {
        parser: { syntax: 'typescript', tsx: true, decorators: true },
        transform: { legacyDecorator: true, decoratorMetadata: true, react: { runtime: 'automatic' } },
        target: 'es2022',
      },
      module: { type: 'es6' },
      sourceMaps: 'inline',
    },
  ],
};

const project = (displayName, rest = {}) => ({
  displayName,
  rootDir: import.meta.dirname,
  testMatch: [`<rootDir>/${displayName}/**/*.test.ts`],
  testPathIgnorePatterns: ['/dist/', '/node_modules/'],
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['source', 'node', 'node-addons'] },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^(\\.{1,2}/.*)\\.js$': '$1',
    // With the seeds that npm test gives.
    '^fast-check$': '<rootDir>/scripts/properties.test-helper.ts',
  },
  modulePathIgnorePatterns: ['/dist/'],
  transform,
  ...rest,
});

export default {
  projects: [
    project('core'),
    project('engine'),
    project('server'),
    project('stand-ins'),
    project('web'),
    project('scripts'),
    project('e2e'),
  ],
};
