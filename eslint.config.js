import pluginVue from 'eslint-plugin-vue'
import tseslint from 'typescript-eslint'

/** Borders between the folders: what may be imported from where. Sub-path imports are used inside a folder as well, so none can be walked around. */
const borders = (files, ...patterns) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns }] },
})
const border = (files, regex, message) => borders(files, { regex, message })

/** The stages in the order of the work, award plans and build costings among them, and the offices that look at all of them. */
const STAGES = ['source', 'award', 'request', 'build', 'decide', 'order', 'receive', 'bill', 'agreements', 'pay']
const OFFICES = ['budgets', 'insight', 'setup']
const SERVER = {
  regex: '^(#web/|#demo/|#stand-ins/|#scripts/|\\.\\.?/)',
  message: 'The server knows neither interface nor demo.',
}
/** Another folder's stores are open, its acts and pages are not; `later` are closed altogether. */
const storesOnly = (folders, later) => [
  SERVER,
  { regex: `^#server/(${[...later, 'app'].join('|')})/`, message: 'What comes later in the work is not known here.' },
  ...(folders.length > 0
    ? [
        {
          regex: `^#server/(${folders.join('|')})/(?!\\w*Store\\.ts$)`,
          message: 'Of an earlier stage only the stores are used.',
        },
      ]
    : []),
]

/** A cast through unknown hides what the types would say; a store may, where a row arrives from SQL that Knex cannot type. */
const CASTS = [
  {
    selector: 'TSAsExpression > TSAsExpression[typeAnnotation.type="TSUnknownKeyword"]',
    message: 'No cast through unknown outside the stores.',
  },
]

/** A plain object also has what every object has; what is asked by names from outside is a table(). */
const TABLES = [
  {
    selector:
      ':matches(Program, ExportNamedDeclaration) > VariableDeclaration > VariableDeclarator[init.type="ObjectExpression"][init.properties.length>0] > Identifier TSTypeReference[typeName.name="Record"] > TSTypeParameterInstantiation > TSStringKeyword:first-child',
    message: 'Names from outside are looked up in a table() (core/text/table.ts).',
  },
]

export default tseslint.config(
  { ignores: ['dist/**', 'node_modules/**', '.ivory/**', 'coverage/**'] },
  ...tseslint.configs.recommended,
  ...pluginVue.configs['flat/essential'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-expressions': 'off',
      'no-control-regex': 'off',
      'no-console': 'error',
      eqeqeq: 'error',
      'vue/multi-word-component-names': 'off',
      'no-warning-comments': ['error', { terms: ['todo', 'fixme', 'xxx'] }],
      'no-restricted-syntax': ['error', ...CASTS],
    },
  },
  {
    files: ['**/*.ts'],
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { arguments: false, attributes: false } },
      ],
      '@typescript-eslint/no-unsafe-argument': 'error',
      '@typescript-eslint/no-unsafe-assignment': 'error',
      '@typescript-eslint/no-unsafe-call': 'error',
      '@typescript-eslint/no-unsafe-member-access': 'error',
      '@typescript-eslint/no-unsafe-return': 'error',
    },
  },
  {
    files: ['contract/**/*.ts', 'server/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-syntax': ['error', ...CASTS, ...TABLES] },
  },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...CASTS,
        ...TABLES,
        {
          selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
          message: 'The clock is passed in.',
        },
        { selector: 'NewExpression[callee.name="Date"][arguments.length=0]', message: 'The clock is passed in.' },
        {
          selector: "CallExpression[callee.object.name='Math'][callee.property.name='random']",
          message: 'Randomness is passed in.',
        },
      ],
    },
  },
  border(
    ['core/**'],
    '^(?!#core/|any-ascii$|decimal\\.js$|saxes$|ibantools$|stdnum$)',
    'The core imports itself and a few pure packages only.',
  ),
  border(['contract/**'], '^(?!#core/|#contract/|zod$)', 'The contract imports the core and Zod only.'),
  border(
    ['web/**/*.ts', 'web/**/*.vue'],
    '^(#server/|#stand-ins/|#demo/|#scripts/|node:|knex$|express$|pg$|\\.\\.?/)',
    'The interface knows the contract, not the server.',
  ),
  borders(['server/**'], ...storesOnly([], [...STAGES, ...OFFICES])),
  ...STAGES.map((stage, index) =>
    borders([`server/${stage}/**`], ...storesOnly(STAGES.slice(0, index), [...STAGES.slice(index + 1), ...OFFICES])),
  ),
  ...OFFICES.map(office =>
    borders(
      [`server/${office}/**`],
      ...storesOnly(
        STAGES,
        OFFICES.filter(other => other !== office),
      ),
    ),
  ),
  borders(['server/app/**'], SERVER),
  border(
    ['stand-ins/**'],
    '^(#server/|#web/|#contract/|#core/|#demo/|\\.\\.?/)',
    'Stand-ins speak open protocols only.',
  ),
  // plain TypeScript does not know Vue files; vue-tsc checks these
  {
    files: ['web/app/main.ts', 'test-helpers/blocks/main.ts'],
    rules: { '@typescript-eslint/no-unsafe-argument': 'off' },
  },
  { files: ['web/vite.config.ts', 'web/handheld/vite.config.ts'], rules: { 'no-restricted-imports': 'off' } },
  { files: ['scripts/run.ts'], rules: { 'no-console': 'off' } },
)
