// Bringing audio in: plain imports beside what the database takes at all, in turn; how much memory a long file needs.
import { wavHeader } from '@nullet/core/formats/wav'
import { whiteNoise } from '@nullet/core/testing/sound'
import { dropDatabase, makeDatabase } from '../e2e/support/stage'
import { interleave } from '../host/wavFile'
import { importSound } from '../server/import/audio'
import { connectStore } from '../server/store/connect'
import { copyBlocksIn } from '../server/store/copy'
import { MediumWriter } from '../server/store/media'

export async function imports(say: (what: string, figure: string) => void): Promise<void> {
  const database = await makeDatabase(`nullet_bench_${process.pid}`),
    sql = connectStore(database, 4)
  const MINUTE = 48000 * 60,
    MINUTES = 6,
    ROUNDS = 4,
    bytes = MINUTES * MINUTE * 8
  const sound = interleave([whiteNoise(MINUTE, 1), whiteNoise(MINUTE, 2)])
  async function bring(minutes: number): Promise<void> {
    const header = wavHeader(2, 48000, minutes * MINUTE, '32f')
    const source = (async function* () {
      yield header
      for (let n = 0; n < minutes; n++)
        for (let at = 0; at < sound.length; at += 1 << 16) yield sound.subarray(at, at + (1 << 16))
    })()
    const [made] = await importSound(sql, source, 'x.wav', header.length + minutes * sound.length, 48000, false)
    await sql.begin(t => made!.writer.publish(t, made!.info))
    await sql`delete from media`
    await sql`delete from media_block`
  }
  async function copy(): Promise<void> {
    const { key } = await MediumWriter.open(sql, 2, 48000)
    const blocks = Array.from({ length: 4 }, (_, n) => sound.subarray(n << 20, (n + 1) << 20))
    for (let at = 0, index = 0; at < bytes; at += 4 << 20, index += 4) await copyBlocksIn(sql, key, index, blocks)
    await sql`delete from media_block where key = ${key}`
    await sql`delete from upload where key = ${key}`
  }
  const spent = { copy: 0, bring: 0 }
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now()
    await copy()
    const half = performance.now()
    await bring(MINUTES)
    spent.copy += half - began
    spent.bring += performance.now() - half
  }
  const speed = (ms: number) => ((ROUNDS * bytes) / 2 ** 20 / (ms / 1000)).toFixed(0)
  say('bare COPY of audio, MiB/s', speed(spent.copy))
  say('import of 32-bit WAV at the session’s rate, measured and stored, MiB/s', speed(spent.bring))
  say('import as a share of the bare COPY', (spent.copy / spent.bring).toFixed(2))
  for (const minutes of [1, 47]) {
    let most = 0
    const watch = setInterval(() => (most = Math.max(most, process.memoryUsage.rss())), 20)
    await bring(minutes)
    clearInterval(watch)
    say(`memory of the process while ${minutes} min of stereo come in, MB at most`, (most / 1e6).toFixed(0))
  }
  await sql.end()
  await dropDatabase(database)
}
