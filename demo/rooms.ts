// What the demonstration has in its rooms: both in the rig library, the kora's amplifier pinged twice (its microphone
// was moved between), the stems through the small summing box and back on a track that waits for its print, behind a
// valve compressor that somebody switched off, and the stems' places in the dome, for the day the session goes there.
import { applyEdit } from '@nullet/core/edits/apply'
import { takeRig } from '@nullet/core/formats/rig'
import { ping, pingRow } from '@nullet/core/measure/ping'
import { isTurned } from '@nullet/core/measure/polarity'
import type { RigDocument } from '@nullet/core/session/rigDocument'
import { keysAfter } from '@nullet/core/session/order'
import { byOrder, rowOf, rows, type Session } from '@nullet/core/session/session'

/** Stems and the jacks of the summing box that they take; the last three share a pair. */
const INTO_THE_BOX: readonly (readonly [stem: string, jack: number])[] = [
  ['plucked', 0],
  ['winds', 2],
  ['percussion', 4],
  ['choir', 6],
  ['narration', 6],
  ['ambience', 6]
]
const BOX_INPUTS = 8

const step = (session: Session, verb: string, args: object): Session => applyEdit(session, { verb, args }).session

async function pinged(session: Session, loop: string, measuredAt: string): Promise<Session> {
  const row = rowOf(session, 'loop', loop)
  const result = await ping(session, row)
  if (!result.measured) throw new Error(`The demonstration’s ping: ${result.reason}`)
  const fields = { ping: pingRow(session, row, result, measuredAt), applied: true, inverted: isTurned(result) === true }
  return step(session, 'setLoop', { id: loop, fields })
}

/** Eight outs and a pair back on an interface of their own, in time with the desk. */
function summed(session: Session): Session {
  const out = (i: number) => `loft-expander-out-${i + 1}`,
    back = ['loft-expander-in-1', 'loft-expander-in-2'],
    ears = ['loft-expander-in-3', 'loft-expander-in-4']
  const port = (direction: 'out' | 'in', name: string, i: number) => ({
    table: 'port',
    row: {
      id: `loft-expander-${direction}-${i + 1}`,
      interface: 'loft-expander',
      name,
      order: portOrder[i + (direction === 'in' ? BOX_INPUTS : 0)],
      direction
    }
  })
  const portOrder = keysAfter(rows(session, 'port').sort(byOrder).at(-1)!.order, BOX_INPUTS + back.length + ears.length)
  const cable = (id: string, ends: object) => ({ table: 'cable', row: { id, rig: 'loft', ...ends } })
  const last = rows(session, 'channel').sort(byOrder).at(-1)!.order
  return step(session, 'addRows', {
    label: 'The stems through the summing box',
    rows: [
      {
        table: 'interface',
        row: {
          id: 'loft-expander',
          rig: 'loft',
          name: 'Loft expander',
          reportedLatencySamples: 128,
          trueLatencySamples: 139.04,
          noiseDbfs: -114
        }
      },
      ...Array.from({ length: BOX_INPUTS }, (_, i) => port('out', `Expander out ${i + 1}`, i)),
      ...[...back, ...ears].map((_, i) => port('in', `Expander in ${i + 1}`, i)),
      ...Array.from({ length: BOX_INPUTS }, (_, i) =>
        cable(`loft-box-in-${i}`, { fromPort: out(i), toUnit: 'box', toJack: i })
      ),
      ...[...back, ...ears].map((id, i) => cable(`loft-box-out-${i}`, { fromUnit: 'box', fromJack: i, toPort: id })),
      {
        table: 'loop',
        row: {
          id: 'loft-sum',
          rig: 'loft',
          name: 'Loft sum',
          order: 'a1',
          outPorts: Array.from({ length: BOX_INPUTS }, (_, i) => out(i)),
          inPorts: back
        }
      },
      {
        table: 'loop',
        row: {
          id: 'loft-monitors',
          rig: 'loft',
          name: 'Loft sum, monitors',
          order: 'a3',
          outPorts: [out(0), out(1)],
          inPorts: ears
        }
      },
      {
        table: 'loop',
        row: {
          id: 'valve-pair',
          rig: 'loft',
          name: 'Valve pair',
          order: 'a2',
          outPorts: ['loft-io-out-3', 'loft-io-out-4'],
          inPorts: ['loft-io-in-3', 'loft-io-in-4']
        }
      },
      ...INTO_THE_BOX.map(([stem, jack]) => ({
        table: 'feed',
        row: { id: `loft-${stem}`, kind: 'port', from: `stem-${stem}`, ports: [out(jack), out(jack + 1)] }
      })),
      {
        table: 'channel',
        row: {
          id: 'loft-sum-track',
          name: 'Loft sum',
          kind: 'track',
          layout: ['L', 'R'],
          order: keysAfter(last, 1)[0],
          colour: 8,
          muted: true,
          ready: true,
          listen: 'feed'
        }
      },
      { table: 'feed', row: { id: 'loft-sum-in', kind: 'input', to: 'loft-sum-track', ports: back } },
      { table: 'feed', row: { id: 'loft-sum-main', kind: 'main', from: 'loft-sum-track', to: 'main' } },
      {
        table: 'slot',
        row: { id: 'loft-sum-valve', channel: 'loft-sum-track', order: 'a0', processor: 'loop', loop: 'valve-pair' }
      }
    ]
  })
}

export async function furnish(
  bare: Session,
  now: Date
): Promise<{ session: Session; entries: Map<string, RigDocument> }> {
  const yesterday = new Date(now.getTime() - 26 * 3600_000)
  let session = step(bare, 'setLoop', {
    id: 'kora-amplifier',
    rig: 'loft',
    fields: { name: 'Kora amplifier', order: 'a0', outPorts: ['loft-io-out-5'], inPorts: ['loft-io-in-5'] }
  })
  session = await pinged(session, 'kora-amplifier', yesterday.toISOString())
  session = step(session, 'setUnit', { id: 'tube', fields: { settings: { distanceM: 0.22, trebleDb: 3 } } })
  session = step(session, 'setUnit', {
    id: 'tube',
    fields: {
      presets: [
        { name: 'As tracked', settings: { driveDb: 24, distanceM: 0.12, trebleDb: 0 } },
        { name: 'Softer', settings: { driveDb: 14, distanceM: 0.22, trebleDb: 2 } }
      ],
      notes: 'Microphone a hand further away since yesterday, treble up for it.'
    }
  })
  session = await pinged(session, 'kora-amplifier', now.toISOString())
  session = summed(session)
  for (const loop of ['loft-sum', 'loft-monitors', 'valve-pair'])
    session = await pinged(session, loop, now.toISOString())
  session = step(session, 'setUnit', { id: 'valve', fields: { powered: false } })
  session = step(session, 'setChannels', { ids: ['kora'], fields: { reference: 'kora-reference' } })
  const stems = rows(session, 'channel')
    .filter(c => c.role === 'stem')
    .sort(byOrder)
  stems.forEach((stem, i) => {
    session = step(session, 'addPortFeed', {
      feedId: `dome-${stem.id}`,
      channel: stem.id,
      ports: [`dome-io-out-${2 * i + 1}`, `dome-io-out-${2 * i + 2}`],
      direction: 'out'
    })
  })
  const entries = new Map<string, RigDocument>()
  for (const rig of ['loft', 'dome']) {
    entries.set(`house-${rig}`, takeRig(session, rig, rowOf(session, 'rig', rig).name))
    session = step(session, 'setRig', { id: rig, fields: { entry: `house-${rig}` } })
  }
  return { session, entries }
}
