// Prints through server, worker and database: one pass against many, again after a change, memory, the log of the
// database.
import { spawnSync } from 'node:child_process'
import { compile } from '@nullet/core/compile/compile'
import { weightOf } from '@nullet/core/run/weights'
import type { Session } from '@nullet/core/session/session'
import { raise } from '../e2e/support/stage'
import { connectStore, type Sql } from '../server/store/connect'
import { createSession } from '../server/store/sessions'
import { client, printItem } from '../server/testing'
import { headline } from './headline'
import { storedNoise } from './noise'

const RATE = 48000,
  SECONDS = 10,
  LENGTHS = [10, 600, 7200]
type Say = (what: string, figure: string) => void

const STEMS = Array.from({ length: 12 }, (_, i) => `stem${i}`)
let serial = 0
const item = (source: string) => {
  const n = ++serial
  return printItem(source, {
    print: `p${n}`,
    track: `t${n}-print`,
    clip: `c${n}`,
    medium: `m${n}-print`,
    takesOver: false
  })
}

export async function prints(say: Say, script: string): Promise<void> {
  const stage = await raise(2)
  const sql = connectStore(stage.database, 4)
  try {
    const noise = await storedNoise(sql, SECONDS, 3)
    const session = headline(144, RATE * SECONDS)
    for (const m of Object.values(session.medium)) m.sha256 = noise
    await passes(say, sql, stage.url, session)
  } finally {
    await sql.end()
    await stage.fall()
  }
  const peaks = LENGTHS.map(seconds => {
    const { stdout } = spawnSync(process.execPath, [script, 'memory-of', String(seconds)], { encoding: 'utf8' })
    return Number(stdout.trim().split('\n').at(-1))
  })
  say('memory of a render of 8 tracks, 10 s, 10 min, 2 h, MB', peaks.map(p => p.toFixed(0)).join(', '))
}

async function passes(say: Say, sql: Sql, url: string, session: Session): Promise<void> {
  await sql.begin(t => createSession(t, 'stems', session))
  const http = client(url)
  const seconds = async (sources: readonly string[]) => {
    const begin = performance.now()
    const job = await http.job('stems', 'print', { items: sources.map(item), seed: 7 })
    if (job.state !== 'done') throw new Error(JSON.stringify(job.error))
    return { took: (performance.now() - begin) / 1000, job }
  }
  const wal = async () =>
    Number((await sql<{ at: string }[]>`select pg_wal_lsn_diff(pg_current_wal_lsn(), '0/0') as at`)[0]!.at)
  // The first brings everything into reach of the caches.
  await seconds(['submix0'])
  const before = await wal()
  const together = await seconds([...STEMS, 'main'])
  const logged = (await wal()) - before
  const stored = 13 * 2 * 4 * RATE * SECONDS
  let apart = 0
  for (const source of [...STEMS, 'main']) {
    // Something of it is other, so that nothing is copied.
    await http.edit('stems', 'setChannels', { ids: [source], fields: { trimDb: -0.1 } })
    apart += (await seconds([source])).took
  }
  say(
    '12 stems and the main of 144 tracks, 10 s: one pass, s; thirteen passes to it',
    `${together.took.toFixed(1)}, ${(apart / together.took).toFixed(1)}`
  )
  say('    log of the database to audio stored, bytes', (logged / stored).toFixed(2))

  await http.edit('stems', 'setChannels', { ids: STEMS, fields: { trimDb: -0.2 } })
  const first = await seconds(STEMS)
  await http.edit('stems', 'setChannels', { ids: ['t005'], fields: { levelDb: -15 } })
  const again = await seconds(STEMS)
  const copied = (again.job.result as { copied: boolean }[]).filter(r => r.copied).length
  const now = (await http.session('stems')).session
  const weight = (stems: readonly string[]) =>
    weightOf(compile(now, { taps: stems.map(channel => ({ channel, tap: 'post' as const })) }).ops)
  const rendered = STEMS.filter((_, i) => !(again.job.result as { copied: boolean }[])[i]!.copied)
  say(
    `    again after one track’s fader: time to the first; share of the work that lies there (${copied} of 12 copied)`,
    `${(again.took / first.took).toFixed(2)}, ${(weight(rendered) / weight(STEMS)).toFixed(2)}`
  )
}
