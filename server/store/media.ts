// Audio in the database: written in blocks under an upload's key, published whole, read in any range.
import { createHash, type Hash } from 'node:crypto'
import { Refusal } from '@nullet/core/refusal'
import { PeakBuilder } from '@nullet/core/measure/peaks'
import { interleave } from '../../host/wavFile'
import type { Sql, Transaction } from './connect'
import { copyBlockIn, copyOut } from './copy'

export interface MediumInfo { sha256: string, key: number, legs: number, frames: number, sampleRate: number, blockFrames: number }

/** Frames a block: about one MiB over all legs, a power of two. */
export function blockFrames(legs: number): number {
  let frames = 262144
  while (frames * legs > 262144) frames /= 2
  return frames
}

/** Takes audio as it comes and writes whole blocks. Nothing is visible before `publish`. */
export class MediumWriter {
  readonly size: number
  frames = 0
  private readonly hash: Hash = createHash('sha256')
  private readonly peaks: PeakBuilder
  private readonly block: Float32Array[]
  private fill = 0
  private index = 0

  private constructor(private readonly sql: Sql, readonly key: number, readonly legs: number, readonly sampleRate: number) {
    this.size = blockFrames(legs)
    this.block = Array.from({ length: legs }, () => new Float32Array(this.size))
    this.peaks = new PeakBuilder()
  }

  static async open(sql: Sql, legs: number, sampleRate: number): Promise<MediumWriter> {
    const [{ key }] = await sql<{ key: number }[]>`insert into upload default values returning key`
    return new MediumWriter(sql, key, legs, sampleRate)
  }

  /** Legs × n. */
  async write(audio: readonly Float32Array[]): Promise<void> {
    this.hash.update(interleave(audio))
    this.peaks.feed(audio)
    const n = audio[0].length
    for (let at = 0; at < n;) {
      const run = Math.min(n - at, this.size - this.fill)
      this.block.forEach((leg, i) => leg.set(audio[i].subarray(at, at + run), this.fill))
      this.fill += run
      at += run
      if (this.fill === this.size) await this.flush()
    }
    this.frames += n
  }

  private async flush(): Promise<void> {
    if (!this.fill) return
    const bytes = new Float32Array(this.legs * this.fill)
    this.block.forEach((leg, i) => bytes.set(leg.subarray(0, this.fill), i * this.fill))
    await copyBlockIn(this.sql, this.key, this.index++, new Uint8Array(bytes.buffer))
    await this.sql`update upload set touched_at = now() where key = ${this.key}`
    this.fill = 0
  }

  /** Writes the rest. What was written can be read by `info` from now on, but is published only by `publish`. */
  async finish(): Promise<MediumInfo> {
    await this.flush()
    return { sha256: this.hash.copy().digest('hex'), key: this.key, legs: this.legs, frames: this.frames, sampleRate: this.sampleRate, blockFrames: this.size }
  }

  async publish(t: Transaction, info: MediumInfo): Promise<void> {
    const made = await t`
      insert into media ${t({ ...info, peaks: Buffer.from(this.peaks.finish().buffer) } as never)} on conflict (sha256, legs) do nothing returning key`
    await t`delete from upload where key = ${this.key}`
    if (!made.length) await t`delete from media_block where key = ${this.key}`
  }

  async discard(): Promise<void> {
    await this.sql`delete from media_block where key = ${this.key}`
    await this.sql`delete from upload where key = ${this.key}`
  }
}

const infos = new Map<string, MediumInfo>()

/** Audio is addressed by its samples and by its legs: silence in one leg has the bytes of half as much in two. */
export async function mediumInfo(sql: Sql, sha256: string, legs: number): Promise<MediumInfo> {
  const name = `${sha256} ${legs}`
  const known = infos.get(name)
  if (known) return known
  const [info] = await sql<MediumInfo[]>`select sha256, key, legs, frames, sample_rate, block_frames from media where sha256 = ${sha256} and legs = ${legs}`
  if (!info) throw new Refusal('notFound', `There is no audio ${sha256.slice(0, 12)} in ${legs} legs`, [sha256])
  infos.set(name, info)
  return info
}

/** Where two media of other legs share these samples, both look the same. */
export async function mediumPeaks(sql: Sql, sha256: string): Promise<Buffer> {
  const found = await copyOut(sql, `select peaks from media where sha256 = '${sha256.replace(/[^0-9a-f]/g, '')}' order by legs limit 1`)
  if (!found.length) throw new Refusal('notFound', `There is no audio ${sha256.slice(0, 12)}`, [sha256])
  return found[0][0]
}

/** Legs × frames from any frame on; zero beyond the end. */
export async function readAudio(sql: Sql, info: MediumInfo, from: number, frames: number): Promise<Float32Array[]> {
  const out = Array.from({ length: info.legs }, () => new Float32Array(frames))
  const end = Math.min(from + frames, info.frames)
  for (let block = Math.floor(from / info.blockFrames); block * info.blockFrames < end; block++) {
    const first = block * info.blockFrames
    const inBlock = Math.min(info.blockFrames, info.frames - first)
    const lo = Math.max(from, first) - first, count = Math.min(end - first, inBlock) - lo
    const legs = out.map((_, leg) => `substring(samples from ${1 + 4 * (leg * inBlock + lo)} for ${4 * count})`)
    const [row] = await copyOut(sql, `select ${legs.join(', ')} from media_block where key = ${Number(info.key)} and index = ${block}`)
    row.forEach((bytes, leg) => {
      // Copied, because a Buffer may start at an odd place.
      out[leg].set(new Float32Array(new Uint8Array(bytes).buffer), first + lo - from)
    })
  }
  return out
}

/** Removes what dead uploads left, and media that no session and no undo can reach any more. */
export async function collectGarbage(sql: Sql): Promise<void> {
  await sql`delete from media_block where key in (select key from upload where touched_at < now() - interval '6 hours')`
  await sql`delete from upload where touched_at < now() - interval '6 hours'`
  await sql`
    with gone as (
      delete from media m where made_at < now() - interval '30 days'
        and not exists (select 1 from medium r where r.sha256 = m.sha256 and r.legs = m.legs)
        and not exists (select 1 from edit_log l where l.made_at > now() - interval '30 days' and l.changes::text like '%' || m.sha256 || '%')
      returning key)
    delete from media_block where key in (select key from gone)`
}
