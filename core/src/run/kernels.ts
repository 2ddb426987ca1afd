// The kernels: one module a thread, over memory that threads share.
import { kernelBase64, secondBase64 } from '../kernels/module'

const MODULES = { first: kernelBase64, second: secondBase64 }
export type Thread = keyof typeof MODULES
const compiled = new Map<Thread, WebAssembly.Module>()

const PAGE = 65536
/** Where a host may lay things: the modules' own data lies below. */
export const FIRST_FREE = 2 * PAGE

/** Memory that ends at this byte. It is as large as it will ever be. */
export function memoryUpTo(end: number): WebAssembly.Memory {
  const pages = Math.max(2, Math.ceil(end / PAGE))
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true })
}

/** The kernels of a thread over such a memory. Modules are compiled once. */
export function kernelsOn<E>(memory: WebAssembly.Memory, thread: Thread = 'first'): E {
  const module = compiled.get(thread) ?? new WebAssembly.Module(bytesOf(MODULES[thread]))
  compiled.set(thread, module)
  const abort = () => {
    throw new Error('a kernel failed')
  }
  return new WebAssembly.Instance(module, { env: { memory, abort } }).exports as unknown as E
}

function bytesOf(base64: string): Uint8Array<ArrayBuffer> {
  const alphabet = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
  const value = new Uint8Array(128)
  for (let i = 0; i < 64; i++) value[alphabet.charCodeAt(i)] = i
  const length = (base64.length * 3) / 4 - (base64.endsWith('==') ? 2 : base64.endsWith('=') ? 1 : 0)
  const out = new Uint8Array(length)
  for (let i = 0, o = 0; i < base64.length; i += 4) {
    const word =
      (value[base64.charCodeAt(i)] << 18) |
      (value[base64.charCodeAt(i + 1)] << 12) |
      (value[base64.charCodeAt(i + 2)] << 6) |
      value[base64.charCodeAt(i + 3)]
    for (let k = 16; k >= 0 && o < length; k -= 8) out[o++] = word >> k
  }
  return out
}
