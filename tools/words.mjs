// Collects every label and message of the product into docs/words.md, so that they can be read as one text: static
// words of templates, and every text of the code that is a phrase. `node tools/words.mjs` writes it, `--check` says
// whether it is up to date, and whether a word in it is one that we do not use.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from '@vue/compiler-sfc'
import ts from 'typescript'
import { root } from './state.mjs'

const FILE = join(root, 'docs/words.md')
/** Attributes that are read: the rest of a template is not words. */
const READ = new Set(['title', 'label', 'placeholder', 'aria-label', 'act', 'note', 'alt'])
/** What we do not say, and what we say. */
const NOT_SAID = [
  [/\btake (it|them|this) out\b|\bpull (it|them|the cable)\b/i, 'remove'],
  [/^Leave$|^Never mind$/i, 'Cancel'],
  [/\bnumbers that are none\b|\bhas none to\b/i, 'a plain sentence'],
  [/\b1 \w+(ses|xes|ies)\b/, 'the singular'],
  [/\(s\)/, 'plural()'],
  [/\b(oops|sorry|please|successfully)\b/i, 'the fact alone'],
  [/\bNaN\b|\[object/, 'words']
]

const AREAS = [
  ['The page', 'app/'],
  ['Core', 'core/src/'],
  ['Server', 'server/'],
  ['Commands', 'cli/', 'host/']
]
const files = ['app', 'core/src', 'server', 'cli', 'host']
  .flatMap(folder => readdirSync(join(root, folder), { recursive: true }).map(f => `${folder}/${f}`))
  .filter(f => /\.(ts|vue)$/.test(f) && !/\.test\.ts$|\/testing|kernels\/|familyTable|benchmark/.test(f))
  .sort()

/** A phrase: words with a blank between, or one word with a capital or dots that a button would carry. */
const isPhrase = text =>
  /\p{L}{2,}[^<>{}]* [^<>{}]*\p{L}{2,}/u.test(text) &&
  !/^(select|insert|update|delete|with|alter|create|copy|lock|set|begin|from)\b/i.test(text.trim()) &&
  !/[;{}=<>]\s*$|=>|::|^\s*[.#\-@]|\bnot null\b|^\[|\[role=|\bPlex\b|^nullet \w+( ‹›)?$|var\(--|px\b.*px\b|^(translate|calc)\(|^[A-Z]xx[A-Z]xx|\bsans-serif\b|\$\d/.test(
    text
  )
const tidy = text => text.replace(/\s+/g, ' ').trim()

function ofTemplate(node, found) {
  if (node.type === 2 && /\p{L}{2,}/u.test(node.content)) found.push(tidy(node.content))
  if (node.type === 5) ofCode(`(${node.content.loc.source})`, found, true)
  for (const p of node.props ?? []) {
    if (p.type === 6 && READ.has(p.name) && p.value) found.push(tidy(p.value.content))
    if (p.type === 7 && p.exp) ofCode(`(${p.exp.loc.source})`, found, READ.has(p.arg?.content))
  }
  for (const child of node.children ?? []) ofTemplate(child, found)
}

/** @param all every text counts, not only phrases: it stands where one reads */
function ofCode(source, found, all = false) {
  const file = ts.createSourceFile('x.ts', source, ts.ScriptTarget.Latest, true)
  const visit = node => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isTaggedTemplateExpression(node)) return
    if (ts.isStringLiteralLike(node)) {
      const text = tidy(node.text)
      if (all ? /\p{L}{2,}/u.test(text) : isPhrase(text)) found.push(text)
    } else if (ts.isTemplateExpression(node)) {
      const text = tidy(node.head.text + node.templateSpans.map(s => `‹›${s.literal.text}`).join(''))
      if (isPhrase(text.replaceAll('‹›', 'xx')) && /\p{L}{2,}/u.test(text.replaceAll('‹›', ''))) found.push(text)
    }
    ts.forEachChild(node, visit)
  }
  visit(file)
}

function wordsOf(path) {
  const source = readFileSync(join(root, path), 'utf8')
  const found = []
  if (path.endsWith('.vue')) {
    const { descriptor } = parse(source)
    if (descriptor.template) ofTemplate(descriptor.template.ast, found)
    if (descriptor.scriptSetup) ofCode(descriptor.scriptSetup.content, found)
  } else ofCode(source, found)
  return [...new Set(found)]
}

const said = files.map(path => ({ path, words: wordsOf(path) })).filter(f => f.words.length)
const lines = [
  '# Every label and message',
  '',
  'Made by `node tools/words.mjs` from the code, by file: what one reads on the page and what the server and the commands answer. ‹› stands',
  'for what is put in. Numbers of things go through `plural` (app/words/format.ts). One word for one thing: *remove*, *cancel*, *bring in*;',
  'buttons name their act.',
  ''
]
for (const [title, ...roots] of AREAS) {
  lines.push(`## ${title}`, '')
  for (const { path, words } of said.filter(f => roots.some(r => f.path.startsWith(r))))
    lines.push(`### ${path}`, '', ...words.map(w => `- ${w.replaceAll('|', '\\|')}`), '')
}
const text = lines.join('\n')

const faults = said.flatMap(({ path, words }) =>
  words.flatMap(w => NOT_SAID.filter(([bad]) => bad.test(w)).map(([, better]) => `${path}: “${w}”: ${better}`))
)
if (process.argv.includes('--check')) {
  const isCurrent = readFileSync(FILE, 'utf8') === text
  if (!isCurrent) console.error('docs/words.md is not what the code says: node tools/words.mjs')
  faults.forEach(f => console.error(f))
  process.exit(isCurrent && !faults.length ? 0 : 1)
}
writeFileSync(FILE, text)
faults.forEach(f => console.error(f))
