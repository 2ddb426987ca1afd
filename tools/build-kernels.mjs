// Compiles core/kernels to WebAssembly, once for each of two threads, and writes a TypeScript file that every host can
// import: over one memory the modules differ in where their own data lies. The file says what it was made from: whoever
// bundles, builds or tests makes it anew where that is not what is there now.
import { createHash } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(import.meta.dirname, '..'),
  sources = join(root, 'core/kernels'),
  written = join(root, 'core/src/kernels/module.ts')

/** SHA-256 of all that a module is made from, this file and its compiler's version included. */
function stampOf() {
  const hash = createHash('sha256')
  for (const file of readdirSync(sources).sort()) hash.update(file).update(readFileSync(join(sources, file)))
  hash.update(readFileSync(fileURLToPath(import.meta.url)))
  hash.update(JSON.parse(readFileSync(join(root, 'node_modules/assemblyscript/package.json'), 'utf8')).version)
  return hash.digest('hex')
}

const firstLine = () => {
  try {
    return readFileSync(written, 'utf8').split('\n', 1)[0]
  } catch {
    return ''
  }
}

/** @param base where its own data lies: that of the second thread's module lies beside that of the first */
async function built(base) {
  const out = join(root, `build/kernels-${base}.wasm`)
  const { default: asc } = await import('assemblyscript/asc')
  const { error, stderr } = await asc.main([
    join(sources, 'index.ts'),
    ...['--outFile', out],
    ...['--enable', 'simd', '--enable', 'threads'],
    ...['-O2', '--converge', '--noAssert', '--disableWarning', '112', '--runtime', 'stub'],
    ...['--importMemory', '--sharedMemory', '--initialMemory', '2', '--maximumMemory', '65536'],
    ...['--memoryBase', String(base)]
  ])
  if (error) throw new Error(stderr.toString())
  return readFileSync(out)
}

/** @returns characters of the file where it had to be made; 0 where the one that is there is the right one */
export async function freshKernels() {
  const says = `// Made by tools/build-kernels.mjs from core/kernels, ${stampOf()}. Not kept in the repository.`
  if (firstLine() === says) return 0
  mkdirSync(join(root, 'build'), { recursive: true })
  mkdirSync(join(root, 'core/src/kernels'), { recursive: true })
  const modules = { kernelBase64: 1024, secondBase64: 65536 }
  const lines = await Promise.all(
    Object.entries(modules).map(
      async ([name, base]) => `export const ${name} =\n  '${(await built(base)).toString('base64')}'\n`
    )
  )
  const text = `${says}\n${lines.join('')}`
  writeFileSync(written, text)
  return text.length
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  console.log(`kernels: ${(await freshKernels()) || 'as they were'}`)
