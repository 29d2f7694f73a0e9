import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/** Which part of the house may import which: core no one, server and web only core, and each its own. */
const never = (...patterns) => ({
  'no-restricted-imports': [
    'error',
    {
      patterns: [
        {
          regex: patterns.join('|'),
          message: 'This part of the house does not import that one (docs/architecture.md).',
        },
      ],
    },
  ],
});
const others = (...names) => `(^|/)(${names.join('|')})/(src|dist)|@tea-pencil/(${names.join('|')})`;

export default ts.config(
  { ignores: ['**/dist/', '**/node_modules/', '.tea-pencil*/', 'test-results/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  prettier,
  {
    languageOptions: {
      globals: Object.fromEntries(
        [
          'process',
          'console',
          'URL',
          'fetch',
          'FormData',
          'Blob',
          'setTimeout',
          'clearTimeout',
          'setInterval',
          'clearInterval',
          'performance',
          'Buffer',
        ].map((n) => [n, 'readonly']),
      ),
    },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'off',
      // Control characters are what some patterns here are about.
      'no-control-regex': 'off',
      eqeqeq: 'error',
    },
  },
  // What is run in a page of the browser.
  {
    files: ['bench/**', 'scripts/screenshot*'],
    languageOptions: {
      globals: Object.fromEntries(
        ['document', 'requestAnimationFrame', 'NodeFilter', 'getSelection'].map((name) => [name, 'readonly']),
      ),
    },
  },
  { files: ['core/src/**'], rules: never(others('server', 'web'), 'prosemirror-view', '^react', '^@nestjs', '^node:') },
  // Decorators use values in a way this rule does not see.
  { files: ['server/src/**'], rules: { ...never(others('web')), 'no-useless-assignment': 'off' } },
  {
    files: ['web/src/**'],
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      ...never(others('server'), '^node:'),
      // It is about a compiler that is not used here.
      'react-hooks/incompatible-library': 'off',
    },
  },
);
