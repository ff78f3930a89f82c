import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Relative imports that climb into one of these rooms are refused. */
const rooms = (names, message) => ({
  'no-restricted-imports': ['error', { patterns: [{ regex: `^\\.\\.?/(.*/)?(${names.join('|')})/`, message }] }],
});

export default tseslint.config(
  { ignores: ['dist', '.astro', 'node_modules', 'data', 'demo-data', 'test-results', 'src/**/*.astro'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    plugins: { 'react-hooks': reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
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
  // Playwright calls its fixtures' continuation `use`; it is no hook.
  { files: ['e2e/**'], rules: { 'react-hooks/rules-of-hooks': 'off', 'no-empty-pattern': 'off' } },
  // The direction of imports: pages → service → core, views → core; the core imports only itself and numeric libraries.
  {
    files: ['src/store/**'],
    rules: rooms(['service', 'views', 'ui', 'pages', 'worker', 'cli', 'server'], 'The store knows only the core.'),
  },
  {
    files: ['src/service/**'],
    rules: rooms(['views', 'ui', 'pages', 'worker', 'cli'], 'A service knows the store and the core, never a screen.'),
  },
  { files: ['src/ui/**'], rules: rooms(['store', 'service', 'views', 'pages', 'cli'], 'Shared parts know only the core.') },
  {
    files: ['src/views/**'],
    rules: rooms(['store', 'service', 'pages', 'cli'], 'A view knows the core and shared parts; data comes in through its page.'),
  },
  { files: ['src/pages/**'], rules: rooms(['store'], 'A page or endpoint asks a service.') },
  {
    files: ['src/core/**'],
    ignores: ['src/core/**/*.test.ts', 'src/core/**/fixtures/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^(?!\\.|zod$|@stdlib/|ml-matrix$|date-fns$|papaparse$)',
              message: 'The core imports only itself, Zod and small libraries for numbers, days and tables.',
            },
            {
              regex: '^\\.\\.?/(.*/)?(store|service|bench|worker|ui|views|pages|cli)/',
              message: 'The core imports only itself.',
            },
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
);
