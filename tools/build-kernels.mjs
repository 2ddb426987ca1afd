// Compiles core/kernels to one WebAssembly module and writes it as a TypeScript file that every host can import.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import asc from 'assemblyscript/asc'

const root = join(import.meta.dirname, '..')
const out = join(root, 'build/kernels.wasm')
mkdirSync(join(root, 'build'), { recursive: true })
mkdirSync(join(root, 'core/src/kernels'), { recursive: true })
const { error, stderr } = await asc.main([
  join(root, 'core/kernels/index.ts'),
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
if (error) {
  console.error(stderr.toString())
  process.exit(1)
}
const base64 = readFileSync(out).toString('base64')
writeFileSync(
  join(root, 'core/src/kernels/module.ts'),
  `// Made by tools/build-kernels.mjs from core/kernels. Not kept in the repository.\nexport const kernelBase64 =\n  '${base64}'\n`
)
console.log(`kernels: ${readFileSync(out).length} bytes`)
