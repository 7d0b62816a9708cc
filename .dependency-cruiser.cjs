/** Which folder may import what: docs/layout.md says why. Held by scripts/imports.test.ts. */
const only = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from,
  to: { path: '^(core|engine|server|web|stand-ins|bench|e2e|scripts)/', pathNot: allowed },
});
const TESTS = '\\.test\\.ts$';

module.exports = {
  forbidden: [
    only(
      'core-stands-alone',
      { path: '^core/', pathNot: TESTS },
      '^core/',
      'Core imports nothing of the others.',
    ),
    {
      name: 'core-has-no-node',
      comment: 'Core reads no clock, file or socket: it runs in the browser too.',
      severity: 'error',
      from: { path: '^core/', pathNot: TESTS },
      to: { dependencyTypes: ['core'] },
    },
    only(
      'server-imports-core',
      { path: '^server/', pathNot: TESTS },
      '^(core|server)/',
      'The server imports core only.',
    ),
    only(
      'web-imports-core',
      { path: '^web/', pathNot: TESTS },
      '^(core|web)/',
      'The interface imports core only.',
    ),
    only(
      'stand-ins-are-strangers',
      { path: '^stand-ins/' },
      '^stand-ins/',
      'Stand-ins import nothing of ours: what arrives there is judged by code that is not ours.',
    ),
    only(
      'engine-imports-core',
      { path: '^engine/', pathNot: TESTS },
      '^(core|engine)/',
      'The engine imports core only: it goes on when the server dies.',
    ),
    {
      name: 'engine-has-no-database',
      comment: 'The way of a signal never waits for a database, a person or JSON over HTTP.',
      severity: 'error',
      from: { path: '^engine/', pathNot: TESTS },
      to: { path: 'node_modules/(@nestjs|pg|drizzle-orm|express)/' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '/dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      conditionNames: ['source', 'import', 'default'],
      extensions: ['.ts', '.tsx', '.js'],
    },
  },
};
