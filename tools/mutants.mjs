// npm run mutants -- FOLDER...: plants single changes into the files of these folders (or into single files) and counts
// how many of them the unit tests find. What survives is listed, in full in .nullet/mutants/.
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { Stryker } from '@stryker-mutator/core'
import { root } from './state.mjs'

/** Floors whose tests speak for a floor besides its own; the rest of core is too far away to be repeated each time. */
const NEAR = {
  foundation: ['session', 'formats'],
  session: ['graph', 'invariants', 'edits', 'formats', 'print'],
  rig: ['measure', 'graph', 'invariants'],
  graph: ['checks', 'invariants', 'print', 'propose', 'edits', 'measure/influence.test.ts'],
  invariants: ['edits', 'formats'],
  print: ['graph', 'movement', 'checks', 'notes'],
  edits: ['graph', 'propose'],
  formats: ['session']
}

/** A sentence is judged by reading it; the tests ask for what it names. */
const NOT_PLANTED = ['StringLiteral']

const isCode = file => /\.ts$/.test(file) && !/\.(test|d)\.ts$/.test(file)
const filesIn = path =>
  statSync(join(root, path)).isDirectory()
    ? readdirSync(join(root, path)).flatMap(name => filesIn(join(path, name)))
    : [path].filter(isCode)

const asked = process.argv.slice(2)
if (!asked.length || asked.some(a => !existsSync(a))) {
  console.error('mutants: name the folders or files to plant changes in, for example core/src/graph')
  process.exit(2)
}
const mutate = asked.flatMap(a => filesIn(relative(root, a) || '.'))
const floors = [...new Set(mutate.map(file => /^core\/src\/([^/]+)/.exec(file)?.[1]).filter(Boolean))]
const nearby = floors.flatMap(floor => [floor, ...(NEAR[floor] ?? [])]).map(path => `core/src/${path}`)
// Outside of core the tests beside the file.
const beside = mutate.filter(file => !file.startsWith('core/')).map(file => dirname(file))
process.env.NULLET_PLANTED = [...new Set([...nearby, ...beside])].join(' ')
const out = join(root, '.nullet/mutants')
mkdirSync(out, { recursive: true })

const stryker = new Stryker({
  mutate,
  mutator: { excludedMutations: NOT_PLANTED },
  plugins: ['@stryker-mutator/vitest-runner'],
  testRunner: 'vitest',
  vitest: { configFile: 'tools/mutants.config.ts', related: false },
  coverageAnalysis: 'perTest',
  ignoreStatic: true,
  concurrency: Number(process.env.NULLET_LANES ?? 2),
  timeoutMS: 4000,
  tempDirName: '.nullet/planted',
  ignorePatterns: ['.nullet', '.nuxt', '.output', '.data', 'docs/screenshots', '/tsconfig.json'],
  reporters: ['progress-append-only'],
  checkers: [],
  allowConsoleColors: false,
  disableTypeChecks: false
})
const results = await stryker.runMutationTest()

const FOUND = new Set(['Killed', 'Timeout'])
const COUNTED = new Set([...FOUND, 'Survived', 'NoCoverage'])
const counted = results.filter(r => COUNTED.has(r.status))
const survivors = counted.filter(r => !FOUND.has(r.status))
const line = r =>
  `${relative(root, r.fileName)}:${r.location.start.line}:${r.location.start.column} ${r.mutatorName} ${r.status}: ${r.replacement.replace(/\s+/g, ' ').slice(0, 160)}`
writeFileSync(
  join(out, `${asked.join('-').replace(/\W+/g, '-').slice(0, 120)}.txt`),
  survivors.map(line).join('\n') + '\n'
)
for (const file of mutate) {
  const here = counted.filter(r => relative(root, r.fileName) === file)
  if (here.length) console.log(`${file}: ${here.filter(r => FOUND.has(r.status)).length} of ${here.length} found`)
}
const found = counted.length - survivors.length
console.log(
  `${asked.join(' ')}: ${found} of ${counted.length} changes found, ${((100 * found) / counted.length).toFixed(1)} %`
)
