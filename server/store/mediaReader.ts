// Media as the engine reads them, with a window of read audio kept for each.
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Session } from '@nullet/core/session/session'
import type { Sql } from './connect'
import { mediumInfo, readAudio, type MediumInfo } from './media'

const WINDOW = 65536

interface Window {
  from: number
  legs: Float32Array[]
}

export class DatabaseMedia implements MediaReader {
  private readonly infos = new Map<string, MediumInfo>()
  private readonly windows = new Map<string, Window>()

  private constructor(private readonly sql: Sql) {}

  /** @param extra media that are written but not published yet, by the id under which they will be read */
  static async of(sql: Sql, session: Session, extra: Map<string, MediumInfo> = new Map()): Promise<DatabaseMedia> {
    const media = new DatabaseMedia(sql)
    for (const medium of Object.values(session.medium))
      media.infos.set(medium.id, await mediumInfo(sql, medium.sha256, medium.legs))
    for (const [id, info] of extra) media.infos.set(id, info)
    return media
  }

  read(medium: string, from: number, frames: number): Float32Array[] | Promise<Float32Array[]> {
    const window = this.windows.get(medium)
    const inside = window && from >= window.from && from + frames <= window.from + WINDOW
    if (inside) return window.legs.map(leg => leg.subarray(from - window.from, from - window.from + frames))
    return this.load(medium, from, frames)
  }

  private async load(medium: string, from: number, frames: number): Promise<Float32Array[]> {
    if (frames > WINDOW / 2) return readAudio(this.sql, this.infos.get(medium)!, from, frames)
    const legs = await readAudio(this.sql, this.infos.get(medium)!, from, WINDOW)
    this.windows.set(medium, { from, legs })
    return legs.map(leg => leg.subarray(0, frames))
  }
}
