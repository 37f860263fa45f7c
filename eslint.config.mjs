// The layer rule: web → contract → core ← server. Everything else is the recommended sets.
import js from '@eslint/js';
import globals from 'globals';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

const forbid = (...groups) => ({
  '@typescript-eslint/no-restricted-imports': [
    'error',
    { patterns: groups.map(([group, message]) => ({ group, message })) },
  ],
});
const nodeBuiltins = ['node:*', 'fs', 'path', 'crypto', 'child_process', 'worker_threads'];
const noServer = [
  ['**/server/**', '@ecoute/server', '@ecoute/server/*'],
  'The browser reaches the server over HTTP only.',
];
const noWeb = [
  ['**/web/**', '@ecoute/web', '@ecoute/web/*'],
  'Interface code is a leaf: nothing imports it.',
];

/** SQL lives in stores: a string that begins like a statement is an error anywhere else. */
const sqlOnlyInStores = {
  'no-restricted-syntax': [
    'error',
    {
      selector: 'TemplateElement[value.raw=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\\s/]',
      message: 'SQL belongs in a store.',
    },
    {
      selector: 'Literal[value=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\\s/]',
      message: 'SQL belongs in a store.',
    },
  ],
};

export default ts.config(
  { ignores: ['build', 'node_modules', '.ecoute', 'test-results'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Playwright wants its fixtures as an object pattern, also where none is used.
      'no-empty-pattern': ['error', { allowObjectPatternsAsParameters: true }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
    },
  },
  {
    files: ['**/*.mjs', 'server/**', 'demo/**', 'e2e/**', 'bench/**'],
    languageOptions: { globals: globals.node },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      ...forbid(
        [nodeBuiltins, 'core does no I/O: hand it the data.'],
        [
          ['@ecoute/contract', '@ecoute/contract/*', 'react', 'express'],
          'core depends on nothing of the layers above it.',
        ],
        noServer,
        noWeb,
      ),
      'no-restricted-globals': [
        'error',
        ...[
          'window',
          'document',
          'navigator',
          'process',
          'Buffer',
          'fetch',
          'setTimeout',
          'setInterval',
          'performance',
        ].map(name => ({ name, message: 'core has no DOM, no Node and no clock of its own.' })),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Take the instant as an argument.' },
      ],
    },
  },
  {
    files: ['contract/**/*.ts'],
    rules: forbid([nodeBuiltins, 'The contract runs in the browser too.'], noServer, noWeb),
  },
  {
    files: ['server/**/*.ts'],
    ignores: ['**/*store.ts', 'server/platform/**', '**/*.test.ts', 'server/testing/**'],
    rules: { ...forbid(noWeb), ...sqlOnlyInStores },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    // What the build itself runs.
    ignores: ['**/*.test.ts', 'web/compressed.ts'],
    plugins: { 'react-hooks': hooks },
    languageOptions: { globals: globals.browser },
    rules: {
      // The compiler's own rules are left out: this build does not use it.
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      ...forbid([nodeBuiltins, 'No Node in the browser.'], noServer),
    },
  },
);
