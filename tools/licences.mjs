// Collects the licences of what ships (libraries and fonts, with all they need) into docs/licences.md.
// `node tools/licences.mjs` writes it, `--check` says whether it is up to date.
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './state.mjs'

const FILE = join(root, 'docs/licences.md')

/** Packages that an installation without development needs, each once. */
function shipped() {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'))
  const found = new Map()
  for (const [path, { dev, link, optional, devOptional, version, license }] of Object.entries(packages)) {
    if (!path.startsWith('node_modules/') || dev || link || optional || devOptional) continue
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length)
    found.set(`${name} ${version}`, { name, version, license: license ?? 'see the package' })
  }
  const text = p => `${p.name} ${p.version}`
  return [...found.values()].sort((a, b) => (text(a) < text(b) ? -1 : 1))
}

function page() {
  const byLicence = new Map()
  for (const p of shipped()) byLicence.set(p.license, [...(byLicence.get(p.license) ?? []), p])
  const groups = [...byLicence].sort(([, a], [, b]) => b.length - a.length)
  const lines = [
    '# Licences of what ships',
    '',
    'Made by `node tools/licences.mjs` from `package-lock.json`: the libraries and fonts of an installation, and all they need. The',
    'text of each licence lies in its package. Nullet itself is under the MIT licence.',
    ''
  ]
  for (const [licence, list] of groups) {
    lines.push(`## ${licence}`, '', list.map(p => `${p.name} ${p.version}`).join(' · '), '')
  }
  return lines.join('\n')
}

const text = page()
if (process.argv.includes('--check')) {
  if (readFileSync(FILE, 'utf8') === text) process.exit(0)
  console.error('docs/licences.md is not what package-lock.json says: node tools/licences.mjs')
  process.exit(1)
}
writeFileSync(FILE, text)
