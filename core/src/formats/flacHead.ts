// What the head of a FLAC file says (RFC 9639, section 8): shape, length, title. The samples are decoded elsewhere, by
// libFLAC.
import type { Said, SoundShape } from './soundFile'

export interface FlacHead {
  shape: SoundShape
  said: Said
  /** Bytes of the longest frame; 0 where the file does not say. */ longestFrame: number
}

const MARK = 4,
  BLOCK_HEADER = 4
const STREAMINFO = 0,
  COMMENTS = 4

/** @returns null as long as bytes are missing, undefined where it is no FLAC */
export function flacHead(bytes: Uint8Array): FlacHead | null | undefined {
  if (bytes.length < MARK) return null
  if (String.fromCharCode(...bytes.subarray(0, MARK)) !== 'fLaC') return undefined
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let head: FlacHead | undefined
  for (let at = MARK; ;) {
    if (at + BLOCK_HEADER > bytes.length) return null
    const first = view.getUint8(at),
      size = view.getUint32(at) & 0xffffff,
      body = at + BLOCK_HEADER
    if (body + size > bytes.length) return null
    if ((first & 0x7f) === STREAMINFO && size >= 34) head = infoIn(view, body)
    if ((first & 0x7f) === COMMENTS && head) takeComments(head.said, view, body, size)
    if (first & 0x80) return head
    at = body + size
  }
}

/** Hz, from the first bytes alone, however much else is said before the samples; undefined where it is no FLAC. */
export function flacRate(bytes: Uint8Array): number | undefined {
  const begun = bytes.length >= MARK + BLOCK_HEADER + 34 && String.fromCharCode(...bytes.subarray(0, MARK)) === 'fLaC'
  if (!begun) return undefined
  return infoIn(new DataView(bytes.buffer, bytes.byteOffset), MARK + BLOCK_HEADER).shape.sampleRate
}

function infoIn(view: DataView, at: number): FlacHead {
  const packed = view.getUint32(at + 10)
  const frames = (view.getUint8(at + 13) & 0x0f) * 2 ** 32 + view.getUint32(at + 14)
  return {
    shape: {
      sampleRate: packed >>> 12,
      legs: ((packed >>> 9) & 7) + 1,
      bits: ((packed >>> 4) & 31) + 1,
      float: false,
      frames: frames || null,
      layout: null
    },
    said: { timeReference: null, title: '' },
    longestFrame: view.getUint32(at + 6) & 0xffffff
  }
}

/** Vorbis comments: little-endian lengths, texts of “NAME=value”. */
function takeComments(said: Said, view: DataView, from: number, size: number): void {
  if (size < 8) return
  const end = from + size
  let at = from + 4 + view.getUint32(from, true)
  if (at + 4 > end) return
  const count = view.getUint32(at, true)
  at += 4
  for (let i = 0; i < count && at + 4 <= end; i++) {
    const length = view.getUint32(at, true)
    at += 4
    if (at + length > end) return
    const text = new TextDecoder().decode(new Uint8Array(view.buffer, view.byteOffset + at, length))
    const [name = '', value = ''] = text.split(/=(.*)/s)
    if (name.toUpperCase() === 'TITLE') said.title = value.trim().slice(0, 300)
    if (name.toUpperCase() === 'TIME_REFERENCE' && Number(value) > 0) said.timeReference = Math.floor(Number(value))
    at += length
  }
}
