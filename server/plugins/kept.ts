// A server that a keeper started ends where the keeper does: its input closes. What killed processes left in temporary folders
// goes when a server starts.
import { defineNitroPlugin } from 'nitropack/runtime'
import { sweepTemporary } from '../../host/temporary'

export default defineNitroPlugin(() => {
  sweepTemporary()
  if (!process.env.NULLET_KEPT) return
  process.stdin.on('end', () => process.exit(0)).on('close', () => process.exit(0)).resume()
})
