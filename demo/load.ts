// Fills the demonstration into the database: audio first, then the session in one transaction. A second time, nothing.
import type { RigDocument } from '@nullet/core/session/rigDocument'
import { layoutOf } from '@nullet/core/session/layouts'
import { connectStore } from '../server/store/connect'
import { MediumWriter, type MediumInfo } from '../server/store/media'
import { rigs } from '../server/store/rigs'
import { createSession, listSessions, loadSession } from '../server/store/sessions'
import { Levels } from '../host/levels'
import { fullDome } from './fullDome'
import { printDemo } from './prints'
import { furnish } from './rooms'
import { score } from './score'
import { demoSession, type DemoMedium } from './session'

export const DEMO_ID = 'orrin'

/** @param isFurnished with its rooms in use and in the library: tests begin with bare ones */
export async function loadDemo(
  sql: ReturnType<typeof connectStore>,
  seconds: number,
  id = DEMO_ID,
  isFurnished = false
): Promise<boolean> {
  if ((await listSessions(sql)).some(s => s.id === id)) return false
  const written = new Map<string, { writer: MediumWriter; info: MediumInfo; measured: Omit<DemoMedium, 'id'> }>()
  const parts = score(seconds)
  for (const part of parts) {
    const levels = new Levels(part.legs.length === 4 ? ['L', 'R', 'Ls', 'Rs'] : layoutOf(part.legs.length), 48000)
    const writer = await MediumWriter.open(sql, part.legs.length, 48000)
    for (let at = 0; at < part.legs[0].length; at += 65536) {
      const piece = part.legs.map(leg => leg.subarray(at, at + 65536))
      levels.feed(piece)
      await writer.write(piece)
    }
    const info = await writer.finish()
    written.set(part.id, { writer, info, measured: { sha256: info.sha256, frames: info.frames, ...levels.read() } })
  }
  const bare = demoSession(parts, part => written.get(part.id)!.measured)
  const { session, entries } = isFurnished
    ? await furnish(bare, new Date())
    : { session: bare, entries: new Map<string, RigDocument>() }
  await sql.begin(async t => {
    for (const { writer, info } of written.values()) await writer.publish(t, info)
    await createSession(t, id, session)
    for (const [entry, document] of entries) await rigs.write(t, entry, document)
  })
  return true
}

/** A second session over the same audio, the size of a full dome. */
export async function loadFullDome(sql: ReturnType<typeof connectStore>, id = 'full-dome'): Promise<boolean> {
  if ((await listSessions(sql)).some(s => s.id === id)) return false
  await createSession(sql, id, fullDome((await loadSession(sql, DEMO_ID)).session))
  return true
}

if (process.argv[1]?.endsWith('demo.mjs')) {
  const sql = connectStore()
  if (await loadDemo(sql, Number(process.env.NULLET_DEMO_SECONDS ?? 40), DEMO_ID, true)) {
    await printDemo(sql, DEMO_ID)
    console.log('nullet: “Night over Lake Orrin” is in the database')
  }
  if (await loadFullDome(sql)) console.log('nullet: “Lake Orrin, full dome”, 128 tracks, is in the database')
  await sql.end()
}
