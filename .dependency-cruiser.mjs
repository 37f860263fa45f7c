// Which folder may use which: no circles between files, and an order among the capabilities of the server and the
// floors of the interface. What a folder may use stands before it.
const CAPABILITIES = [
  'people',
  'recordings',
  'tags',
  'rubrics',
  'assessments',
  'packages',
  'holidays',
  'releases',
  'invitations',
  'departments',
  'classes',
  'rosters',
  'guests',
  'feeds',
  'sittings',
  'handovers',
  'discussions',
  'listeners',
  'measures',
  'commentBank',
  'notes',
  'replies',
  'marks',
  'markups',
  'decisions',
  'reading',
  'results',
  'podcasts',
  'portfolios',
  'speech',
  'keeping',
  'exports',
  'schoolSystem',
  'administration',
];
const capability = name => `^server/capabilities/${name}/`;
const tests = '\\.test\\.tsx?$';

/** @type {import('dependency-cruiser').IConfiguration} */
export default {
  forbidden: [
    {
      name: 'no-circles',
      comment: 'Files that import each other have no order to be read in. Move what both need to a third.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'every-capability-has-its-place',
      comment: 'A new capability is written into the list above, after those that it uses.',
      severity: 'error',
      from: { path: '^server/capabilities/', pathNot: CAPABILITIES.map(capability) },
      to: {},
    },
    ...CAPABILITIES.slice(0, -1).map((name, place) => ({
      name: `order-of-capabilities: ${name}`,
      comment: `${name} comes before what it uses here: see the order of capabilities.`,
      severity: 'error',
      from: { path: capability(name), pathNot: tests },
      to: { path: CAPABILITIES.slice(place + 1).map(capability) },
    })),
    {
      name: 'platform-knows-no-capability',
      comment: 'The platform is what capabilities stand on.',
      severity: 'error',
      from: { path: '^server/platform/', pathNot: tests },
      to: { path: '^server/capabilities/' },
    },
    ...[
      { floor: 'web/base', above: ['web/parts', 'web/features', 'web/app'] },
      { floor: 'web/parts', above: ['web/features', 'web/app'] },
      { floor: 'web/features', above: ['web/app'] },
    ].map(({ floor, above }) => ({
      name: `floors-of-the-interface: ${floor}`,
      comment: 'base carries parts, parts carry features, app puts them together.',
      severity: 'error',
      from: { path: `^${floor}/` },
      to: { path: above.map(a => `^${a}/`) },
    })),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules', '^build/'] },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.mjs', '.js'] },
    reporterOptions: { text: { highlightFocused: false } },
  },
};
