import reactHooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

// Which way imports may go. Inside core, each room knows only those before it in the chain.
/** Rooms of the computation itself, which know nothing of a project. */
const LOWER = [
  'kernel',
  'measure',
  'basis',
  'book',
  'reduction',
  'adjustment',
  'codes',
  'linework',
  'terrain',
  'quantities',
  'pictures',
  'exchange',
];
/** Rooms of a project: each knows those before it, and every room of the computation. */
const UPPER = ['project', 'sources', 'stages', 'queries', 'chain', 'report', 'drawing', 'handover'];
const ALLOWED = {
  kernel: [],
  measure: [],
  basis: ['kernel', 'measure'],
  book: ['kernel', 'measure'],
  reduction: ['kernel', 'measure', 'basis', 'book'],
  adjustment: ['kernel', 'measure', 'basis', 'book', 'reduction'],
  codes: ['kernel', 'measure'],
  linework: ['kernel', 'measure', 'codes'],
  terrain: ['kernel', 'measure'],
  quantities: ['kernel', 'measure', 'terrain'],
  pictures: ['kernel', 'measure', 'basis'],
  exchange: ['kernel', 'measure', 'basis', 'book', 'codes', 'terrain', 'pictures'],
  ...Object.fromEntries(UPPER.map((room, i) => [room, [...LOWER, ...UPPER.slice(0, i)]])),
};

const forbid = (patterns) => ['error', { patterns }];
const faceOnly = {
  group: ['**/core/src/**', '**/contract/src/**', '**/demo/src/**'],
  message: 'Come in by the face: #core/…, #contract, #demo.',
};
const noHost = {
  regex: '^(node:|fs$|path$|express|pg$|react|three|@chakra)',
  message: 'Core knows nothing above it: no Node, no server, no page.',
};
const SAME_BITS = ['hypot', 'sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'exp', 'log', 'pow', 'cbrt'].map(
  (property) => ({
    object: 'Math',
    property,
    message: 'Not the same to the last bit in every engine; see docs/decisions/001-same-bits.md.',
  }),
);

export default tseslint.config(
  { ignores: ['node_modules', 'web/dist', 'cli/dist', '.data', 'test-results', 'playwright-report'] },
  ...tseslint.configs.recommended,
  {
    plugins: { regexp },
    rules: {
      // A pattern that takes time in the square of its input, or worse, stops whoever reads a hostile file.
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-var': 'error',
      'prefer-const': ['error', { destructuring: 'all' }],
      eqeqeq: 'error',
    },
  },
  ...Object.keys(ALLOWED).map((room) => ({
    files: [`core/src/${room}/**/*.ts`],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      'no-restricted-imports': forbid([
        noHost,
        { regex: '^#(contract|demo)', message: 'Core knows nothing above it.' },
        {
          regex: `^#core/(?!(${ALLOWED[room].join('|') || 'none'})$)`,
          message: `${room} may know only: ${ALLOWED[room].join(', ') || 'nothing'}.`,
        },
      ]),
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch', 'localStorage'],
      // Projections need trigonometry; what they compute is stored, never computed twice (docs/decisions/005-where-projections-run.md).
      'no-restricted-properties': room === 'basis' ? 'off' : ['error', ...SAME_BITS],
    },
  })),
  {
    files: ['contract/**/*.ts'],
    rules: {
      'no-restricted-imports': forbid([noHost, { regex: '^#demo', message: 'The contract stands on core alone.' }]),
    },
  },
  {
    files: ['server/src/**/*.ts'],
    rules: {
      'no-restricted-imports': forbid([
        faceOnly,
        { group: ['**/web/**', '**/cli/**'], message: 'Server and page know each other only by the contract.' },
      ]),
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    rules: {
      'no-restricted-imports': forbid([
        faceOnly,
        { regex: '^(node:|express|pg$|#demo)', message: 'The page has no server in it.' },
        { group: ['**/server/**', '**/cli/**'], message: 'Server and page know each other only by the contract.' },
      ]),
      // Colours live in one place, where day and night and contrast are looked after.
      'no-restricted-syntax': [
        'error',
        { selector: 'Literal[value=/^#[0-9a-fA-F]{3,8}$/]', message: 'Colours come from frame/colours.ts.' },
      ],
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  { files: ['web/src/frame/colours.ts'], rules: { 'no-restricted-syntax': 'off' } },
  {
    files: ['cli/src/**/*.ts'],
    rules: {
      'no-restricted-imports': forbid([
        faceOnly,
        { group: ['**/web/**', '**/server/**'], message: 'The command line stands on core.' },
      ]),
    },
  },
);
