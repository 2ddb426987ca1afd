// Who may import whom, and what core must not use, besides the usual.
import js from '@eslint/js'
import tseslint from 'typescript-eslint'
import vue from 'eslint-plugin-vue'
import vueParser from 'vue-eslint-parser'

/** The last bit of these differs between runtimes: samples would, too. */
const RUNTIME_MATH = [
  'sin',
  'cos',
  'tan',
  'asin',
  'acos',
  'atan',
  'atan2',
  'sinh',
  'cosh',
  'tanh',
  'exp',
  'expm1',
  'log',
  'log2',
  'log10',
  'log1p',
  'pow',
  'cbrt',
  'hypot'
]
const noRuntimeMath = [
  ...RUNTIME_MATH.map(property => ({
    object: 'Math',
    property,
    message: 'Use core/src/foundation/elementary.ts: the runtimes’ own differ in the last bit.'
  })),
  { object: 'Math', property: 'random', message: 'Core has no randomness without a seed.' },
  { object: 'Date', property: 'now', message: 'Core has no clock.' }
]
const houses = (forbidden, message) => ['error', { patterns: forbidden.map(group => ({ group: [group], message })) }]
/** Core's floors, lowest first: each imports from itself and from below. */
const FLOORS = [
  ['foundation'],
  ['session'],
  ['plan'],
  ['processors', 'rig', 'notes', 'movement'],
  ['graph'],
  ['invariants'],
  ['compile'],
  ['run'],
  ['measure', 'print', 'checks', 'propose'],
  ['edits'],
  ['formats'],
  ['testing']
]
const OTHER_HOUSES = ['node:*', 'vue', 'postgres', '~/*', '**/app/**', '**/server/**', '**/host/**', '**/demo/**']
const floors = FLOORS.slice(0, -1).map((rooms, floor) => ({
  files: rooms.map(room => `core/src/${room}/**/*.ts`),
  ignores: ['core/src/**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: OTHER_HOUSES, message: 'Core knows nothing of the other houses.' },
          {
            group: FLOORS.slice(floor + 1)
              .flat()
              .map(room => `../${room}/*`),
            message: `Core’s floors import downwards only: ${FLOORS.map(f => f.join(' · ')).join(' → ')}.`
          }
        ]
      }
    ]
  }
}))
const common = {
  'no-unused-vars': 'off',
  'no-undef': 'off',
  'no-restricted-imports': 'off',
  '@typescript-eslint/no-unused-vars': [
    'error',
    { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true, caughtErrors: 'none' }
  ],
  '@typescript-eslint/no-non-null-assertion': 'off',
  '@typescript-eslint/no-unused-expressions': ['error', { allowTernary: true, allowShortCircuit: true }],
  'max-lines': ['error', { max: 450, skipBlankLines: true, skipComments: true }],
  // What the formatter cannot break: text, and comments.
  'max-len': [
    'error',
    { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true }
  ],
  eqeqeq: 'error',
  'prefer-const': 'error',
  'no-console': 'off'
}

export default tseslint.config(
  {
    ignores: [
      '.nuxt/**',
      '.output/**',
      'build/**',
      'node_modules/**',
      '.nullet/**',
      'core/src/kernels/module.ts',
      'core/kernels/**'
    ]
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  ...vue.configs['flat/essential'],
  { files: ['**/*.{ts,mjs,vue}'], rules: { ...common, 'vue/multi-word-component-names': 'off' } },
  { files: ['**/*.vue'], languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser } } },
  { files: ['**/*.test.ts'], rules: { 'max-lines': 'off' } },
  // Script and template together; its parts are taken out one by one.
  {
    files: ['app/components/network/MapView.vue'],
    rules: { 'max-lines': ['error', { max: 590, skipBlankLines: true }] }
  },
  ...floors,
  {
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/**/*.test.ts', 'core/src/foundation/elementary.ts', 'core/src/testing/**'],
    rules: {
      'no-restricted-properties': ['error', ...noRuntimeMath],
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'performance']
    }
  },
  {
    files: ['app/**/*.{ts,vue}'],
    rules: {
      '@typescript-eslint/no-restricted-imports': houses(
        ['**/server/**', '**/host/**', 'postgres', 'node:*', '**/demo/**'],
        'The app knows core only.'
      )
    }
  },
  {
    files: ['server/**/*.ts'],
    ignores: ['server/**/*.test.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': houses(
        ['~/*', '**/app/**', 'vue', '**/demo/**'],
        'The server knows core and host only.'
      )
    }
  },
  {
    files: ['host/**/*.ts', 'cli/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': houses(
        ['~/*', '**/app/**', '**/server/**', 'vue', 'postgres', '**/demo/**'],
        'Host and commands know core only.'
      )
    }
  },
  {
    files: ['server/api/**/*.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': houses(
        ['postgres', '~/*', '**/app/**'],
        'Routes hold no SQL: it lives in server/store.'
      )
    }
  }
)
