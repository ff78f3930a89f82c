import js from '@eslint/js';
import astro from 'eslint-plugin-astro';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Relative imports that climb into one of these rooms are refused. */
const rooms = (names, message) => ({
  'no-restricted-imports': ['error', { patterns: [{ regex: `^\\.\\.?/(.*/)?(${names.join('|')})/`, message }] }],
});

/** The rooms of the core from the ground up: each may use those before it. Files of the core itself, such as its faults, belong to all. */
const coreRooms = [
  'seal',
  'quantity',
  'statistics',
  'curve',
  'settle',
  'connect',
  'diagnose',
  'uncertainty',
  'montecarlo',
  'day',
  'conformity',
  'traceability',
  'formula',
  'disciplines',
  'standard',
  'register',
  'practice',
  'procedure',
  'evaluate',
  'plan',
  'document',
  'interval',
  'state',
  'steps',
  'run',
  'set-up',
  'acts',
  'log',
  'certificate',
  'proof',
  'door',
];

/** Imports of the core, which is everywhere the same: itself and small libraries. */
const coreImports = {
  regex: '^(?!\\.|zod$|@stdlib/|ml-matrix$|date-fns$|papaparse$|canonicalize$)',
  message: 'The core imports only itself, Zod and small libraries for numbers, days and tables.',
};

const outOfCore = {
  regex: '^\\.\\.?/(.*/)?(store|service|bench|worker|ui|views|pages|cli|server|demo)/',
  message: 'The core imports only itself.',
};

/** A room of the core uses those beneath it: `../room/` from its own folder, `../../room/` from one inside it. */
const coreOrder = coreRooms.map((room, i) => ({
  files: [`src/core/${room}/**`],
  ignores: ['src/core/**/*.test.ts', 'src/core/**/fixtures/**'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          coreImports,
          outOfCore,
          ...(i + 1 < coreRooms.length
            ? [
                {
                  regex: `^(\\.\\./)+(${coreRooms.slice(i + 1).join('|')})/`,
                  message: `This room stands above ${room}: what both need belongs lower down.`,
                },
              ]
            : []),
        ],
      },
    ],
  },
}));

export default tseslint.config(
  { ignores: ['dist', '.astro', 'node_modules', 'data', 'demo-data', 'test-results'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  ...astro.configs.recommended,
  // What is drawn; elsewhere there is nothing that these could find, and they take most of the time.
  {
    files: ['src/{ui,views,layouts,pages}/**', '**/*.tsx'],
    plugins: { 'react-hooks': reactHooks },
    rules: reactHooks.configs.recommended.rules,
  },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
  {
    files: ['scripts/**', '**/*.js', '**/*.mjs'],
    languageOptions: {
      globals: { process: 'readonly', console: 'readonly', setTimeout: 'readonly', fetch: 'readonly', URL: 'readonly' },
    },
  },
  // Playwright's fixtures name what they need in their first argument, also where that is nothing.
  { files: ['e2e/**'], rules: { 'no-empty-pattern': 'off' } },
  // The direction of imports: pages → service → core, views → core; the core imports only itself and numeric libraries.
  {
    files: ['src/store/**'],
    rules: rooms(['service', 'views', 'ui', 'pages', 'worker', 'cli', 'server'], 'The store knows only the core.'),
  },
  {
    files: ['src/bench/**'],
    rules: rooms(
      ['service', 'contract', 'views', 'ui', 'pages', 'worker', 'cli', 'server', 'demo'],
      'A simulated bench knows the core, and the lines of the register.',
    ),
  },
  {
    files: ['src/service/**'],
    rules: rooms(['views', 'ui', 'pages', 'worker', 'cli'], 'A service knows the store and the core, never a screen.'),
  },
  {
    files: ['src/contract/**'],
    rules: rooms(['store', 'service', 'ui', 'views', 'pages', 'cli', 'server'], 'The contract knows only the core.'),
  },
  { files: ['src/ui/**'], rules: rooms(['store', 'service', 'views', 'pages', 'cli'], 'Shared parts know only the core.') },
  {
    files: ['src/views/**'],
    rules: rooms(['store', 'service', 'pages', 'cli'], 'A view knows the core and shared parts; data comes in through its page.'),
  },
  { files: ['src/pages/**'], rules: rooms(['store'], 'A page or endpoint asks a service.') },
  { files: ['src/layouts/**'], rules: rooms(['store', 'pages'], 'A frame of pages asks a service.') },
  {
    files: ['src/core/**'],
    ignores: ['src/core/**/*.test.ts', 'src/core/**/fixtures/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            coreImports,
            outOfCore,
            { regex: `^\\./(${coreRooms.join('|')})/`, message: 'What belongs to all rooms uses none of them.' },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'fetch',
        'process',
        'localStorage',
        'crypto',
        'setTimeout',
        'setInterval',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'The core has no clock: take the time as an argument.' },
        { object: 'Math', property: 'random', message: 'The core has no random source: take a seed.' },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'The core has no clock: take the time as an argument.',
        },
      ],
    },
  },
  ...coreOrder,
  { files: ['src/server/**'], rules: rooms(['views', 'ui', 'pages'], 'The server serves pages; it knows none.') },
  {
    files: ['src/worker/**'],
    rules: rooms(['store', 'service', 'views', 'pages', 'cli', 'server'], 'The worker knows only the core.'),
  },
  {
    files: ['demo/**'],
    rules: rooms(['views', 'ui', 'pages', 'worker', 'server'], 'The demo is made through core, service and store.'),
  },
);
