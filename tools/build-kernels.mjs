// Compiles core/kernels to one WebAssembly module and writes it as a TypeScript file that every host can import. The
// file says what it was made from: whoever bundles, builds or tests makes it anew where that is not what is there now.
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

/** @returns bytes of the module where it had to be made; 0 where the one that is there is the right one */
export async function freshKernels() {
  const says = `// Made by tools/build-kernels.mjs from core/kernels, ${stampOf()}. Not kept in the repository.`
  if (firstLine() === says) return 0
  const out = join(root, 'build/kernels.wasm')
  mkdirSync(join(root, 'build'), { recursive: true })
  mkdirSync(join(root, 'core/src/kernels'), { recursive: true })
  const { default: asc } = await import('assemblyscript/asc')
  const { error, stderr } = await asc.main([
    join(sources, 'index.ts'),
    '--outFile',
    out,
    '--enable',
    'simd',
    '-O2',
    '--converge',
    '--noAssert',
    '--disableWarning',
    '112',
    '--runtime',
    'stub',
    '--importMemory',
    '--memoryBase',
    '1024',
    '--initialMemory',
    '1',
    '--maximumMemory',
    '65536'
  ])
  if (error) throw new Error(stderr.toString())
  const module = readFileSync(out)
  writeFileSync(written, `${says}\nexport const kernelBase64 =\n  '${module.toString('base64')}'\n`)
  return module.length
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  console.log(`kernels: ${(await freshKernels()) || 'as they were'}`)
