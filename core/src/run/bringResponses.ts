// Brings impulse responses into a machine's memory. See kernels/convolve.ts and plan/responseSize.ts.
import { PI, cos, sin } from '../foundation/elementary'
import { shaped } from '../processors/convolution'
import { makeResponse, RESPONSES } from '../processors/responses'
import { RESPONSE_AT, TWIDDLES_AT } from '../plan/responseSize'
import { settings, type Session } from '../session/session'
import type { Op } from '../plan/operations'
import type { Machine } from './machine'
import type { MediaReader } from './mediaReader'

let twiddles: Float64Array | undefined
function makeTwiddles(): Float64Array {
  const out = new Float64Array(8193 * 2)
  for (let k = 0; k <= 8192; k++) {
    const w = (-2 * PI * k) / 16384
    out[2 * k] = cos(w)
    out[2 * k + 1] = sin(w)
  }
  return out
}

/** Responses in the order in which a plan needs them, read and shaped once each. */
export async function bringResponses(
  machine: Machine,
  ops: readonly Op[],
  session: Session,
  media: MediaReader
): Promise<void> {
  const made = new Map<string, Float32Array[]>()
  for (const op of ops) {
    if (!op.response || machine.hasData(op.key)) continue
    const { id, endS, leg, frames } = op.response
    const name = `${id} ${endS}`
    if (!made.has(name)) {
      const rate = settings(session).sampleRate
      const legs =
        id in RESPONSES
          ? makeResponse(id, rate)
          : (await media.read(id, 0, session.medium[id].frames)).map(l => l.slice())
      made.set(name, shaped(legs, { id, endS }, rate))
    }
    const legs = made.get(name)!
    const data = machine.dataOf(op.key)
    new Float64Array(data.buffer, data.byteOffset + TWIDDLES_AT, 8193 * 2).set((twiddles ??= makeTwiddles()))
    new Float32Array(data.buffer, data.byteOffset + RESPONSE_AT, frames).set(
      legs[Math.min(leg, legs.length - 1)].subarray(0, frames)
    )
  }
}
