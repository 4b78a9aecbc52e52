// The import directions of docs/tour.md are held here: core imports nothing of ours, lagoon imports nothing of ours and
// nobody imports it, server and web import core. SQL stays in the stores, clocks and randomness are handed to core.
import js from '@eslint/js';
import globals from 'globals';
import tseslint from 'typescript-eslint';
import vue from 'eslint-plugin-vue';

const rooms = ['core', 'server', 'web', 'lagoon'];
/** Forbids reaching the given rooms, by package name or by a path that climbs out of one's own room. */
const mayNotImport = (names, why) => ({
  patterns: [
    {
      regex: `^(@playa/(${names.join('|')})(/|$)|(\\.\\./)+(${names.join('|')})/)`,
      message: why,
    },
  ],
});
const others = (room, allowed = []) => rooms.filter((name) => name !== room && !allowed.includes(name));

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '.playa*/**', 'test-results/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser }, globals: globals.browser },
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      // Layout is Prettier's business.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
    },
  },
  { files: ['web/**/*.ts'], languageOptions: { globals: globals.browser } },
  { files: ['**/*.mjs', 'server/**', 'lagoon/**', 'bench/**', 'e2e/**'], languageOptions: { globals: globals.node } },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-undef': 'off',
      eqeqeq: 'error',
    },
  },
  {
    // Files stay small and are named for what they hold.
    files: ['**/*.{ts,vue,mjs}'],
    ignores: [
      '**/*.test.ts',
      '**/*.spec.ts',
      // Tables of data, and what is made from the endpoints.
      ...['core/captions/functions.ts', 'core/outlets/kinds.ts', 'core/conditions/operators.ts'],
      ...['server/demo/starters.ts', 'web/lib/api-types.ts'],
    ],
    rules: { 'max-lines': ['error', 300] },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...mayNotImport(others('core'), 'core imports nothing of ours.').patterns,
            { regex: '^node:', message: 'core runs without Node.' },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'process',
        'Buffer',
        'window',
        'document',
        'fetch',
        'setTimeout',
        'setInterval',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Time is handed to core.' },
        { object: 'Math', property: 'random', message: 'Randomness is handed to core as a seed.' },
      ],
    },
  },
  {
    files: ['server/**/*.ts'],
    rules: {
      'no-restricted-imports': ['error', mayNotImport(others('server', ['core']), 'server imports only core.')],
    },
  },
  {
    files: ['web/**/*.{ts,vue}'],
    rules: { 'no-restricted-imports': ['error', mayNotImport(others('web', ['core']), 'web imports only core.')] },
  },
  {
    // The browser's own speak the device's language, and know nothing of the brand's clock.
    files: ['web/**/*.vue'],
    rules: {
      'vue/no-restricted-static-attribute': [
        'error',
        ...['date', 'time', 'datetime-local', 'month', 'week'].map((value) => ({
          ...{ key: 'type', value, element: 'input' },
          message: 'Days and moments are a DatePicker, times of day a TimePicker.',
        })),
      ],
    },
  },
  {
    files: ['web/**/*.vue'],
    ignores: ['web/components/form/ModalDialog.vue', 'web/components/FindOrDo.vue'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          ...mayNotImport(others('web', ['core']), 'web imports only core.'),
          paths: [
            { name: '@headlessui/vue', importNames: ['Dialog', 'DialogPanel'], message: 'Dialogs are a ModalDialog.' },
          ],
        },
      ],
    },
  },
  {
    files: ['lagoon/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', mayNotImport(others('lagoon'), 'lagoon is a foreign world.')] },
  },
  {
    files: ['e2e/**/*.ts', 'bench/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', mayNotImport(['lagoon'], 'nobody imports lagoon.')] },
  },
  {
    // The clock of browser tests is set: a page of Playwright's own would show another day.
    files: ['e2e/**/*.spec.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          ...mayNotImport(['lagoon'], 'nobody imports lagoon.'),
          paths: [{ name: '@playwright/test', importNames: ['test', 'expect'], message: 'Take them from ./test.ts.' }],
        },
      ],
    },
  },
  {
    // SQL has one home.
    files: ['server/**/*.ts'],
    ignores: ['server/store/**', 'server/db/**', '**/*.test.ts', 'server/testing/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            ':matches(Literal[value=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\\s/], TemplateElement[value.raw=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\\s/])',
          message: 'SQL belongs in server/store.',
        },
      ],
    },
  },
);
