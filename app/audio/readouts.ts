// The values that travel with every block: which they are, and how they are read from a machine.
import type { Machine } from '@nullet/core/run/machine'
import type { Op } from '@nullet/core/plan/operations'

interface Readout {
  key: string
  read(): number
}

/**
 * Peaks of meters over all legs, their RMS over a block (`rms/…`), and the deepest gain of every gain curve (linear).
 */
export function readouts(machine: Machine, ops: Op[]): Readout[] {
  const found: Readout[] = []
  for (const op of ops) {
    if (op.kind === 'meter') {
      const state = machine.stateOf(op.key)!
      const legs = op.ins.length
      const name = op.key.slice('meter/'.length)
      found.push({
        key: `rms/${name}`,
        read() {
          let top = 0
          for (let i = 0; i < legs; i++) if (state[i * 2 + 1] > top) top = state[i * 2 + 1]
          return Math.sqrt(top)
        }
      })
      found.push({
        key: name,
        read() {
          let top = 0
          for (let i = 0; i < legs; i++) if (state[i * 2] > top) top = state[i * 2]
          return top
        }
      })
    } else if (op.owner.slot && op.key.endsWith('/curve')) {
      const state = machine.stateOf(op.key)!
      const deepest = new Float64Array(state.buffer, state.byteOffset + 16, 1)
      found.push({ key: `gain/${op.owner.slot}`, read: () => deepest[0] })
    }
  }
  return found
}
