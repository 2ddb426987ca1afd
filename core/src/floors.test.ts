// No two files of core need one another, not even for a type: what both need stands in a file below them. That floors
// import downwards only is checked by lint.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, normalize } from 'node:path'
import { describe, expect, it } from 'vitest'

const HERE = import.meta.dirname

/** Every file of core with the files that it imports. */
function imports(): Map<string, string[]> {
  const files = (readdirSync(HERE, { recursive: true }) as string[]).filter(
    f => f.endsWith('.ts') && !f.endsWith('.test.ts')
  )
  const target = (from: string, to: string) => {
    const path = normalize(join(dirname(from), to))
    return existsSync(join(HERE, `${path}.ts`)) ? `${path}.ts` : join(path, 'index.ts')
  }
  return new Map(
    files.map(f => [
      f,
      [...readFileSync(join(HERE, f), 'utf8').matchAll(/from '(\.[^']+)'/g)].map(m => target(f, m[1]!))
    ])
  )
}

/** The files of one circle, in order; null where there is none. */
function circle(graph: Map<string, string[]>): string[] | null {
  const done = new Set<string>()
  const visit = (file: string, path: string[]): string[] | null => {
    if (path.includes(file)) return path.slice(path.indexOf(file))
    if (done.has(file)) return null
    for (const next of graph.get(file) ?? []) {
      const found = visit(next, [...path, file])
      if (found) return found
    }
    done.add(file)
    return null
  }
  for (const file of graph.keys()) {
    const found = visit(file, [])
    if (found) return found
  }
  return null
}

describe('files of core', () => {
  it('never import one another in a circle', () => {
    const graph = imports()
    expect(graph.size).toBeGreaterThan(150)
    expect(
      circle(
        new Map([
          ['a', ['b']],
          ['b', ['c']],
          ['c', ['b']]
        ])
      )
    ).toEqual(['b', 'c'])
    expect(circle(graph)).toBeNull()
  })
})
