// One project a layer, so that `./ecoute check` can run core alone.
// swc turns TypeScript (and packages that ship ES modules only) into what Jest's own loader reads.
const transform = {
  '^.+\\.(t|j|mj)sx?$': [
    '@swc/jest',
    {
      jsc: {
        parser: { syntax: 'typescript', tsx: false, decorators: true },
        transform: {
          legacyDecorator: true,
          decoratorMetadata: true,
          useDefineForClassFields: false,
          react: { runtime: 'automatic' },
        },
        target: 'es2022',
      },
      module: { type: 'commonjs', lazy: true },
    },
  ],
};
const common = {
  cacheDirectory: '<rootDir>/node_modules/.cache/jest',
  transform,
  testEnvironment: 'node',
  transformIgnorePatterns: [
    '/node_modules/(?!(@tus|srvx|file-type|strtok3|token-types|uint8array-extras|@borewit|@tokenizer|@ecoute|idb|feed)/)',
  ],
  moduleFileExtensions: ['ts', 'tsx', 'js', 'mjs', 'json', 'node'],
};
export default {
  // A machine that is four times as slow may take its time; what hangs is still found.
  testTimeout: 120_000,
  projects: [
    { ...common, displayName: 'core', roots: ['<rootDir>/core', '<rootDir>/contract'] },
    { ...common, displayName: 'web', roots: ['<rootDir>/web'] },
    {
      ...common,
      displayName: 'server',
      // These name an `import` entry only, which Jest's own resolution does not follow.
      moduleNameMapper: {
        '^file-type$': '<rootDir>/node_modules/file-type/index.js',
        '^strtok3$': '<rootDir>/node_modules/strtok3/lib/index.js',
      },
      roots: ['<rootDir>/server'],
      globalSetup: '<rootDir>/server/testing/globalSetup.mjs',
      globalTeardown: '<rootDir>/server/testing/globalTeardown.mjs',
    },
  ],
};
