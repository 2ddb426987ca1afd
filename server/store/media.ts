// Audio in the database: written in blocks under an upload's key, published whole, read in any range.
import { Refusal } from '@nullet/core/foundation/refusal'
import { blockFrames, BlockShaper, type Shaped } from '../../host/blocks'
import { within, type Sql, type Transaction } from './connect'
import { copyBlocksIn, copyOut } from './copy'

export interface MediumInfo {
  sha256: string
  key: number
  legs: number
  frames: number
  sampleRate: number
  blockFrames: number
}

/** How many blocks and bytes a medium has when it is whole. */
export const blocksOf = ({ frames, blockFrames, legs }: Pick<MediumInfo, 'frames' | 'blockFrames' | 'legs'>) => ({
  blocks: Math.ceil(frames / blockFrames),
  bytes: frames * legs * 4
})

const DISCARD_MS = 10_000
/** An upload says so often that it is still alive; one that is silent for hours is collected. */
const TOUCH_MS = 10_000

/** Takes audio as it comes, or blocks that were cut elsewhere, and writes them. Nothing is visible before `publish`. */
export class MediumWriter {
  private shaper: BlockShaper | null = null
  private shaped: Shaped | null = null
  private index = 0
  private touched = performance.now()

  private constructor(
    private readonly sql: Sql,
    readonly key: number,
    readonly legs: number,
    readonly sampleRate: number
  ) {}

  static async open(sql: Sql, legs: number, sampleRate: number): Promise<MediumWriter> {
    const [{ key }] = await sql<{ key: number }[]>`insert into upload default values returning key`
    return new MediumWriter(sql, key, legs, sampleRate)
  }

  /** Legs × n. */
  async write(audio: readonly Float32Array[]): Promise<void> {
    this.shaper ??= new BlockShaper(this.legs)
    await this.put(this.shaper.feed(audio))
  }

  /** The next blocks, each leg after leg, f32, little-endian. */
  async put(blocks: readonly Uint8Array[]): Promise<void> {
    if (!blocks.length) return
    await copyBlocksIn(this.sql, this.key, this.index, blocks)
    this.index += blocks.length
    if (performance.now() - this.touched < TOUCH_MS) return
    this.touched = performance.now()
    await this.sql`update upload set touched_at = now() where key = ${this.key}`
  }

  /**
   * Writes the rest. What was written can be read by `info` from now on, but is published only by `publish`.
   * @param shaped what is known of blocks that were cut elsewhere
   */
  async finish(shaped?: Shaped): Promise<MediumInfo> {
    if (!shaped) {
      const end = (this.shaper ?? new BlockShaper(this.legs)).end()
      await this.put(end.last)
      shaped = end.shaped
    }
    this.shaped = shaped
    const { sha256, frames } = shaped
    const { key, legs, sampleRate } = this
    return { sha256, key, legs, frames, sampleRate, blockFrames: blockFrames(legs) }
  }

  /**
   * Makes it a medium, in a transaction that has counted its blocks and compared their hash. Audio that is there
   * already is attached to where it is whole; where it has a hole, these blocks take the place of its own.
   * @throws Refusal where the database has not what was written
   */
  async publish(t: Transaction, info: MediumInfo): Promise<void> {
    const { blocksHash, peaks } = this.shaped!
    const wanted: Held = { ...blocksOf(info), hash: blocksHash }
    if (!same(await held(t, this.key), wanted))
      throw new Refusal(
        'badFile',
        'Not all of this audio reached the database',
        [],
        'Nothing of it was kept. Bring it in again.'
      )
    const made = await t`
      insert into media ${t({ ...info, peaks: Buffer.from(peaks) } as never)} on conflict (sha256, legs) do nothing
      returning key`
    await t`delete from upload where key = ${this.key}`
    if (made.length) return
    const [there] = await t<
      { key: number }[]
    >`select key from media where sha256 = ${info.sha256} and legs = ${info.legs} for update`
    const whole = there && same(await held(t, there.key), wanted)
    if (there && !whole)
      await t`update media set key = ${this.key}, block_frames = ${info.blockFrames}, frames = ${info.frames}
        where key = ${there.key}`
    await t`delete from media_block where key = ${whole ? this.key : there!.key}`
  }

  /** What cannot be taken away now is collected later: its upload is not touched any more. */
  async discard(): Promise<void> {
    try {
      await within(
        DISCARD_MS,
        'taking audio away',
        this.sql.begin(t => takeAway(t, t`key = ${this.key}`))
      )
    } catch (error) {
      console.error(`an upload is left to be collected: ${(error as Error).message}`)
    }
  }
}

interface Held {
  blocks: number
  bytes: number
  hash: string
}
const same = (a: Held, b: Held) => a.blocks === b.blocks && a.bytes === b.bytes && a.hash === b.hash

/** What the database really has under a key. */
async function held(t: Sql | Transaction, key: number): Promise<Held> {
  const [row] = await t<Held[]>`
    select count(*)::int as blocks, coalesce(sum(octet_length(samples)), 0)::float8 as bytes,
      encode(sha256(convert_to(coalesce(string_agg(encode(sha256(samples), 'hex'), '' order by index), ''), 'UTF8')),
        'hex') as hash
    from media_block where key = ${key}`
  return row!
}

/** Media that lack blocks, with the names under which sessions know them. */
export async function brokenMedia(
  sql: Sql
): Promise<{ sha256: string; legs: number; has: number; wants: number; names: string[] }[]> {
  return await sql`
    select m.sha256, m.legs, coalesce(b.blocks, 0)::int as has, ceil(m.frames::float8 / m.block_frames)::int as wants,
      array(select distinct r.name from medium r where r.sha256 = m.sha256 and r.legs = m.legs order by r.name
      limit 5) as names
    from media m left join (select key, count(*) as blocks, sum(octet_length(samples)) as bytes from media_block
    group by key) b on b.key = m.key
    where coalesce(b.blocks, 0) <> ceil(m.frames::float8 / m.block_frames) or coalesce(b.bytes, 0) <> m.frames * m.legs * 4
    order by m.sha256`
}

/** What has a hole in it is said before any of it is handed out. @throws Refusal that names how much is missing */
export async function assertWhole(sql: Sql, info: MediumInfo, name: string): Promise<void> {
  const { blocks } = blocksOf(info)
  const [{ has } = { has: 0 }] = await sql<
    { has: number }[]
  >`select count(*)::int as has from media_block where key = ${info.key}`
  if (has === blocks) return
  infos.delete(`${info.sha256} ${info.legs}`)
  throw hole(name, `${blocks - has} of its ${blocks} blocks are missing`)
}

const hole = (name: string, what: string) =>
  new Refusal(
    'brokenMedium',
    `The audio “${name}” has a hole: ${what}. Bring the same file in again and it is whole.`,
    [],
    'Everything else stays as it is.'
  )

const infos = new Map<string, MediumInfo>()

/** Audio is addressed by its samples and by its legs: silence in one leg has the bytes of half as much in two. */
export async function mediumInfo(sql: Sql, sha256: string, legs: number): Promise<MediumInfo> {
  const name = `${sha256} ${legs}`
  const known = infos.get(name)
  if (known) return known
  const [info] = await sql<
    MediumInfo[]
  >`select sha256, key, legs, frames, sample_rate, block_frames from media where sha256 = ${sha256} and legs = ${legs}`
  if (!info) throw new Refusal('notFound', `There is no audio ${sha256.slice(0, 12)} in ${legs} legs`, [sha256])
  infos.set(name, info)
  return info
}

/** Where two media of other legs share these samples, both look the same. */
export async function mediumPeaks(sql: Sql, sha256: string): Promise<Buffer> {
  const found = await copyOut(
    sql,
    `select peaks from media where sha256 = '${sha256.replace(/[^0-9a-f]/g, '')}' order by legs limit 1`
  )
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
    const lo = Math.max(from, first) - first,
      count = Math.min(end - first, inBlock) - lo
    const legs = out.map((_, leg) => `substring(samples from ${1 + 4 * (leg * inBlock + lo)} for ${4 * count})`)
    const [row] = await copyOut(
      sql,
      `select ${legs.join(', ')} from media_block where key = ${Number(info.key)} and index = ${block}`
    )
    if (!row) {
      // Another process may have healed it: next time it is looked up anew.
      infos.delete(`${info.sha256} ${info.legs}`)
      throw hole(info.sha256.slice(0, 12), `block ${block + 1} of ${blocksOf(info).blocks} is missing`)
    }
    row.forEach((bytes, leg) => {
      // Copied, because a Buffer may start at an odd place.
      out[leg].set(new Float32Array(new Uint8Array(bytes).buffer), first + lo - from)
    })
  }
  return out
}

/**
 * Uploads first: that waits for whoever still writes blocks of them (see `copyBlocksIn`), which are seen then.
 * @param which condition on uploads
 */
async function takeAway(t: Transaction, which: ReturnType<Transaction>): Promise<void> {
  const gone = await t<{ key: number }[]>`delete from upload where ${which} returning key`
  if (gone.length) await t`delete from media_block where key in ${t(gone.map(g => g.key))}`
}

/** Removes what dead uploads left, and media that no session and no undo can reach any more. */
export async function collectGarbage(sql: Sql): Promise<void> {
  await sql.begin(t => takeAway(t, t`touched_at < now() - interval '6 hours'`))
  await sql`
    with gone as (
      delete from media m where made_at < now() - interval '30 days'
        and not exists (select 1 from medium r where r.sha256 = m.sha256 and r.legs = m.legs)
        and not exists (select 1 from edit_log l where l.made_at > now() - interval '30 days'
        and l.changes::text like '%' || m.sha256 || '%')
      returning key)
    delete from media_block where key in (select key from gone)`
  await sql`
    delete from photo p where made_at < now() - interval '30 days'
      and not exists (select 1 from unit u where u.photos::text like '%' || p.sha256 || '%')
      and not exists (select 1 from rig_entry e where e.document::text like '%' || p.sha256 || '%')
      and not exists (select 1 from template d where d.document::text like '%' || p.sha256 || '%')
      and not exists (select 1 from edit_log l where l.made_at > now() - interval '30 days'
      and l.changes::text like '%' || p.sha256 || '%')`
}
