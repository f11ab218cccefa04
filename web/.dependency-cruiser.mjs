/** What each room of the browser's program may lean on, from the ground up. */
const LEANS_ON = {
  api: [],
  plot: [],
  device: [],
  words: ['api'],
  session: ['api', 'device', 'words'],
  outbox: ['api', 'device', 'session'],
  ui: ['api', 'words'],
  chart: ['api', 'words', 'ui', 'plot'],
  features: ['api', 'device', 'words', 'session', 'outbox', 'ui', 'plot', 'chart'],
};

const layers = Object.entries(LEANS_ON).map(([room, below]) => ({
  name: `${room}-leans-on-what-lies-below`,
  comment: `${room} may use ${below.length === 0 ? 'no other room' : below.join(', ')}.`,
  severity: 'error',
  from: { path: `^src/${room}/` },
  to: { path: '^src/', pathNot: `^src/(${[room, ...below].join('|')})/` },
}));

export default {
  forbidden: [
    ...layers,
    {
      name: 'no-circle',
      comment: 'Whoever reads one file of a circle has to read them all.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'no-circle-of-rooms',
      comment: 'Features lean on each other in one direction.',
      severity: 'error',
      scope: 'folder',
      from: { path: '^src/' },
      to: { circular: true },
    },
    {
      name: 'through-the-face',
      comment: 'Another feature is used through its index.ts; what it does not show there is its own affair.',
      severity: 'error',
      from: { path: '^src/features/([^/]+)/' },
      to: { path: '^src/features/([^/]+)/', pathNot: ['^src/features/$1/', '^src/features/[^/]+/index\\.ts$'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
  },
};
