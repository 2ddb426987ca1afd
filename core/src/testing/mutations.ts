// Inputs that were good and are spoilt: bytes, text and JSON, the same for the same seed.
import type { Dice } from './generated'

const BYTES = [0, 1, 0x7f, 0x80, 0xff]
const WORDS = [0, 1, 0x7fffffff, 0x80000000, 0xffffffff, 0xfffffffe, 0x0000ffff]

/** Values that stand where another was meant. */
export const ODD_VALUES: readonly unknown[] = [
  null,
  true,
  '',
  0,
  -1,
  -0,
  0.5,
  1e15,
  1e308,
  -1e308,
  2 ** 31,
  2 ** 53,
  '__proto__',
  'constructor',
  'a\0b',
  '\ud83e',
  'ü',
  '..',
  '/',
  '%00',
  ' ',
  '=SUM(A1)',
  "'; drop table x; --",
  'x'.repeat(5000),
  '9'.repeat(400),
  [],
  {},
  [[]],
  [null],
  { id: null },
  { __proto__: 1 },
  ['__proto__'],
  Array.from({ length: 300 }, (_, i) => i),
  '\u202e',
  '🥁',
  '01',
  '1e3',
  'NaN',
  'Infinity'
]

/** A value of its own: what is put in may be spoilt again. */
const odd = (dice: Dice): unknown => structuredClone(dice.pick(ODD_VALUES))

/** One to four places of a run of bytes are others, gone, doubled or cut off. */
export function spoiltBytes(dice: Dice, bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  let out = new Uint8Array(bytes)
  const place = () => (dice.chance(0.6) ? dice.below(Math.min(out.length, 64) + 1) : dice.below(out.length + 1))
  const acts = [
    () => {
      out[place()] = dice.chance(0.5) ? dice.pick(BYTES) : dice.below(256)
    },
    () => {
      const at = place()
      if (at + 4 <= out.length)
        new DataView(out.buffer, out.byteOffset).setUint32(at, dice.pick(WORDS), dice.chance(0.5))
    },
    () => {
      const at = place()
      if (at + 2 <= out.length)
        new DataView(out.buffer, out.byteOffset).setUint16(at, dice.pick(WORDS) & 0xffff, dice.chance(0.5))
    },
    () => {
      out = out.slice(0, place())
    },
    () => {
      const at = place(),
        n = dice.below(64)
      out = join(out.subarray(0, at), out.subarray(at + n))
    },
    () => {
      const at = place(),
        n = dice.below(64)
      out = join(out.subarray(0, at + n), out.subarray(at))
    },
    () => {
      const at = place()
      out = join(
        out.subarray(0, at),
        Uint8Array.from({ length: dice.below(40) }, () => dice.below(256)),
        out.subarray(at)
      )
    }
  ]
  for (let n = 1 + dice.below(4); n > 0; n--) dice.pick(acts)()
  return out
}

function join(...parts: Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(parts.reduce((n, p) => n + p.length, 0))
  let at = 0
  for (const p of parts) {
    out.set(p, at)
    at += p.length
  }
  return out
}

/** A document of which one to three nodes are others, gone, doubled or moved. */
export function spoiltJson(dice: Dice, value: unknown): unknown {
  const out = structuredClone(value)
  for (let n = 1 + dice.below(3); n > 0; n--) {
    const nodes = containers(out)
    if (!nodes.length) return odd(dice)
    const node = dice.pick(nodes),
      keys = Object.keys(node)
    if (!keys.length) {
      node[dice.chance(0.5) ? 'id' : '0'] = odd(dice)
      continue
    }
    const key = dice.pick(keys)
    const acts = [
      () => {
        node[key] = odd(dice)
      },
      () => {
        node[key] = odd(dice)
      },
      () => {
        if (Array.isArray(node)) node.splice(Number(key), 1)
        else delete node[key]
      },
      () => {
        if (Array.isArray(node)) node.push(structuredClone(node[Number(key)]))
        else node[`${key}2`] = node[key]
      },
      () => {
        const other = dice.pick(nodes)
        node[key] = structuredClone(Object.hasOwn(other, key) ? other[key] : odd(dice))
      },
      () => {
        if (typeof node[key] === 'number') node[key] = (node[key] as number) * dice.pick([-1, 0, 1e3, 1e9, 1e-9])
      },
      () => {
        if (typeof node[key] === 'string') node[key] = spoiltText(dice, node[key] as string)
      }
    ]
    dice.pick(acts)()
  }
  return out
}

/** All lists and objects of a document; itself first. */
function containers(value: unknown): Record<string, unknown>[] {
  if (typeof value !== 'object' || value === null) return []
  return [value as Record<string, unknown>, ...Object.values(value).flatMap(containers)]
}

const ODD_TEXT = [
  '\0',
  '\ud83e',
  '"',
  ',',
  ';',
  '\n',
  '\r\n',
  '\t',
  '=',
  '%',
  '\\',
  '__proto__',
  '"'.repeat(50),
  '\ufeff',
  '-',
  '9'.repeat(30),
  'NaN',
  '{',
  '}',
  '[',
  '🥁',
  '…'
]

/** Text with one to four pieces put in, gone or exchanged. */
export function spoiltText(dice: Dice, text: string): string {
  let out = text
  for (let n = 1 + dice.below(4); n > 0; n--) {
    const at = dice.below(out.length + 1),
      length = dice.below(12)
    out = dice.pick([
      () => out.slice(0, at) + dice.pick(ODD_TEXT) + out.slice(at),
      () => out.slice(0, at) + out.slice(at + length),
      () => out.slice(0, at) + dice.pick(ODD_TEXT) + out.slice(at + length),
      () => out.slice(0, at),
      () => out.slice(0, at) + out.slice(Math.max(0, at - length))
    ])()
  }
  return out
}
