// Audio for benches that go through the database: one medium of noise, which every track may play.
import { whiteNoise } from '@nullet/core/testing/sound'
import { importSound } from '../server/import/audio'
import type { Sql } from '../server/store/connect'
import { wav } from '../server/testing'

/** @returns the SHA-256 by which rows name it */
export async function storedNoise(sql: Sql, seconds: number, seed: number, rate = 48000): Promise<string> {
  const file = wav([whiteNoise(rate * seconds, seed, 0.2)])
  const source = (async function* () {
    yield file
  })()
  const [made] = await importSound(sql, source, 'noise.wav', file.length, rate, false)
  await sql.begin(t => made!.writer.publish(t, made!.info))
  return made!.info.sha256
}
