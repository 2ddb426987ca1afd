// The thread in which files are cut into blocks, one file after the other.
import { parentPort } from 'node:worker_threads'
import { Refusal } from '@nullet/core/foundation/refusal'
import { flacReady } from './flacReader'
import { Shaping } from './shaping'
import type { FromShaping, ToShaping } from './shapingPool'

let shaping: Shaping | null = null

function answer(m: ToShaping): FromShaping {
  switch (m.kind) {
    case 'begin':
      shaping?.close()
      shaping = new Shaping(m.options)
      return { blocks: [] }
    case 'bytes':
      return { blocks: shaping!.push(m.bytes) }
    case 'end':
      return shaping!.end()
  }
}

parentPort!.on('message', async (m: ToShaping) => {
  if (m.kind === 'begin') await flacReady()
  let said: FromShaping
  try {
    said = answer(m)
  } catch (error) {
    said = { blocks: [], refused: error instanceof Refusal ? error.toJSON() : { message: (error as Error).message } }
  }
  parentPort!.postMessage(
    said,
    said.blocks.map(b => b.bytes.buffer)
  )
})
