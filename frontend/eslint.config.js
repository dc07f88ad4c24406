import vue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

const VIEWS = ['board', 'checks', 'hosts', 'people', 'plans', 'pools', 'tuner']
/** What each folder may not import: what several views share stands below them. */
const unknownTo = (files, folders, message) => ({
  files: files.map((folder) => `src/${folder}/**`),
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ group: folders.map((folder) => `@/${folder}/*`), message }] },
    ],
  },
})

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts', 'components.d.ts'] },
  ...tseslint.configs.strict,
  ...vue.configs['flat/essential'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
  },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      '@typescript-eslint/no-non-null-assertion': 'error',
      'no-console': 'error',
      // Those that were larger when this came are counted in eslint-suppressions.json: none more.
      'max-lines-per-function': ['error', { max: 40 }],
      'max-params': ['error', 6],
    },
  },
  {
    // A group of tests is one function.
    files: ['**/*.test.ts'],
    rules: { 'max-lines-per-function': 'off' },
  },
  ...VIEWS.map((view) =>
    unknownTo(
      [`views/${view}`],
      VIEWS.filter((other) => other !== view).map((other) => `views/${other}`),
      'A view knows no other view.',
    ),
  ),
  unknownTo(
    ['water', 'sentence', 'stores', 'plan', 'ask', 'ui', 'chart', 'help', 'api'],
    ['views', 'views/*'],
    'What views share knows no view.',
  ),
  unknownTo(
    ['ask', 'chart', 'api'],
    ['views', 'views/*', 'water', 'sentence', 'plan'],
    'Asking and drawing know nothing of the plan.',
  ),
)
