import js from '@eslint/js';
import angular from 'angular-eslint';
import prettier from 'eslint-config-prettier';
import globals from 'globals';
import tseslint from 'typescript-eslint';
import { placeOrder, roomOrder } from './scripts/lint/room-order.js';

/** Libraries that the core may import; everything else is relative or `#core/…`. */
const coreLibraries = ['zod', 'clipper2-ts', 'delaunator', 'fflate', 'saxes'];

const browserAndNode = [...new Set([...Object.keys(globals.browser), ...Object.keys(globals.node)])].filter(
  (name) => !(name in globals.es2021),
);

const wholeZod = {
  selector: "ImportDeclaration[source.value='zod'] > ImportSpecifier",
  message: "Write `import * as z from 'zod'`: named imports pull every locale in.",
};

export default tseslint.config(
  {
    ignores: ['dist/**', 'node_modules/**', '.angular/**', '.cache/**', 'test-results/**', 'playwright-report/**'],
  },
  { files: ['**/*.ts', '**/*.js', '**/*.mjs'], extends: [js.configs.recommended, ...tseslint.configs.recommended] },
  {
    files: ['**/*.ts', '**/*.js', '**/*.mjs'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-restricted-syntax': ['error', wholeZod],
      eqeqeq: 'error',
      'no-console': 'off',
    },
  },
  { files: ['scripts/**', 'server/**', 'cli/**', '*.config.*'], languageOptions: { globals: globals.node } },
  {
    files: ['core/**/*.ts'],
    ignores: ['core/**/*.test.ts', 'core/**/*.bench.ts', 'core/**/*.prove.ts', 'core/testing/**'],
    plugins: { steady: { rules: { 'room-order': roomOrder } } },
    rules: {
      'steady/room-order': 'error',
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: `^(?!\\.{1,2}/|#core/|(?:${coreLibraries.join('|')})(?:/|$))`,
              message: 'The core imports its own rooms and a few named libraries only.',
            },
          ],
        },
      ],
      'no-restricted-globals': ['error', ...browserAndNode],
      'no-console': 'error',
    },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    languageOptions: { globals: globals.browser },
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'st', style: 'kebab-case' }],
      '@angular-eslint/directive-selector': ['error', { type: 'attribute', prefix: 'st', style: 'camelCase' }],
    },
  },
  {
    files: ['web/src/*/**/*.ts'],
    ignores: ['web/src/**/*.spec.ts', 'web/src/testing/**'],
    plugins: { places: { rules: { order: placeOrder } } },
    rules: { 'places/order': 'error' },
  },
  {
    files: ['web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    rules: {
      '@angular-eslint/template/label-has-associated-control': [
        'error',
        { controlComponents: ['p-checkbox', 'p-select'] },
      ],
    },
  },
  prettier,
);
