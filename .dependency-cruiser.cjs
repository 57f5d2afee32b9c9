// The page's rooms, each of which knows only those before it.
const PAGE = ['frame', 'work', 'project-state', 'sheet', 'cards', 'intake', 'stages', 'workspace', 'entry', 'crew'];

/** Which way imports may go, whichever way they are written; types count as well. */
module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'room-by-its-face',
      comment: 'Into another room of core by its index.ts only: #core/ROOM.',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/', pathNot: ['^core/src/$1/', '^core/src/[^/]+/index[.]ts$'] },
    },
    {
      name: 'core-by-its-faces',
      severity: 'error',
      from: { path: '^(contract|server|web|cli|demo|bench|e2e)/' },
      to: { path: '^core/src/', pathNot: '^core/src/[^/]+/index[.]ts$' },
    },
    {
      name: 'core-knows-nothing-above-it',
      severity: 'error',
      from: { path: '^core/src/' },
      to: { path: '^(contract|server|web|cli|demo|bench|e2e|scripts)/' },
    },
    { name: 'core-without-a-host', severity: 'error', from: { path: '^core/src/' }, to: { dependencyTypes: ['core'] } },
    {
      name: 'page-and-server-meet-in-the-contract',
      severity: 'error',
      from: { path: '^web/src/' },
      to: { path: '^(server|cli|demo|bench|e2e)/' },
    },
    {
      name: 'server-and-page-meet-in-the-contract',
      severity: 'error',
      from: { path: '^(server|cli)/src/' },
      to: { path: '^web/' },
    },
    ...PAGE.map((room, i) => ({
      name: `page-${room}-knows-only-what-is-before-it`,
      severity: 'error',
      from: { path: `^web/src/${room}/` },
      to: { path: [...PAGE.slice(i + 1).map((later) => `^web/src/${later}/`), '^web/src/(app|main)[.]tsx$'] },
    })),
    { name: 'command-line-stands-on-core', severity: 'error', from: { path: '^cli/src/' }, to: { path: '^server/' } },
    {
      name: 'tests-and-tools-are-not-the-program',
      severity: 'error',
      from: { path: '^(core|contract|server|web|cli)/src/' },
      to: { path: '^(bench|e2e)/|/test/' },
    },
    {
      name: 'db-and-jobs-know-no-project',
      severity: 'error',
      from: { path: '^server/src/(db|jobs)/' },
      to: {
        path: '^server/src/(http|accounts|projects|results|paper)/',
        pathNot: '^server/src/projects/grid-facts[.]ts$',
      },
    },
    {
      name: 'papers-are-asked-for-by-routes',
      comment: 'Who may come in does not hang on what a project holds.',
      severity: 'error',
      from: { path: '^server/src/accounts/' },
      to: { path: '^server/src/(projects|results|paper|jobs)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.mjs', '.js'],
    },
  },
};
