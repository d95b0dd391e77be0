import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['**/build/', '**/dist/', '**/.svelte-kit/', '**/node_modules/', '.kerbe/', '.test-results/', 'docs/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // TypeScript itself knows what is defined.
      'no-undef': 'off',
      'prefer-const': ['error', { destructuring: 'all' }],
      'svelte/no-navigation-without-resolve': 'off',
      'svelte/prefer-svelte-reactivity': 'off',
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: { 'prefer-const': 'off', 'svelte/prefer-const': ['error', { excludedRunes: ['$props', '$derived', '$bindable'] }] },
  },
  {
    // The core is pure: no interface, no Node, no database, nothing that knows the time or rolls dice.
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/**/*.test.ts', 'core/src/reference/**'],
    rules: {
      'no-restricted-imports': ['error', { patterns: ['node:*', 'svelte*', '$*', 'kysely*', 'pg', '@kerbe/app*', '@kerbe/agent*', '@kerbe/machines*'] }],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'fetch', 'localStorage', 'Date', 'performance', 'setTimeout', 'Buffer'],
      'no-restricted-properties': ['error', { object: 'Math', property: 'random' }],
    },
  },
  {
    files: ['agent/src/**/*.ts', 'machines/src/**/*.ts', 'cli/src/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['@kerbe/app*', 'svelte*'] }] },
  },
);
