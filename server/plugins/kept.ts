// A server that a keeper started ends where the keeper does: its input closes. What killed processes left in temporary
// folders goes when a server starts, halves of uploads after a day. Threads for imports are there from the beginning.
import { defineNitroPlugin } from 'nitropack/runtime'
import { sweepTemporary } from '../../host/temporary'
import { warmShaping } from '../import/shapingPool'
import { outliveReaders } from '../store/connect'
import { sweepArrived } from '../utils/arrival'

const SWEEP_MS = 3600 * 1000,
  END_MS = 5000

export default defineNitroPlugin(() => {
  outliveReaders()
  warmShaping()
  sweepTemporary()
  void sweepArrived()
  setInterval(() => void sweepArrived(), SWEEP_MS).unref()
  // Requests under way have some seconds; an event stream would never end by itself.
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => setTimeout(() => process.exit(0), END_MS).unref())
  if (!process.env.NULLET_KEPT) return
  process.stdin
    .on('end', () => process.exit(0))
    .on('close', () => process.exit(0))
    .resume()
})
