// Session packages into and out of the database. The same session always gives the same bytes.
import { createReadStream } from 'node:fs'
import { createHash } from 'node:crypto'
import { readFile, stat } from 'node:fs/promises'
import type { EventEmitter } from 'node:events'
import { basename, join } from 'node:path'
import { PassThrough, Readable } from 'node:stream'
import yazl from 'yazl'
import { audioName, writePackage } from '@nullet/core/formats/package'
import { receiverSession, type ReceiverForm } from '@nullet/core/formats/receiver'
import { MOST_PHOTO_BYTES } from '@nullet/core/session/rows'
import { byId, mediaInUse, rows, settings, type Session } from '@nullet/core/session/session'
import { openPackage } from '../../host/packageFile'
import { inspectWav, wavPieces } from '../../host/wavFile'
import type { Sql } from './connect'
import { writeMedium, type Imported } from '../import/audio'
import { assertWhole, mediumInfo } from './media'
import { keepPhoto, photoFile, photosOf, readPhoto } from './photos'
import { createSession, loadSession } from './sessions'
import { storedAudio, wavBytes } from './wavBytes'

/** Files in a zip must not say when they were written, or no two exports would be equal. */
const EPOCH = new Date(Date.UTC(1980, 0, 1))

/** @param receiver as it goes to somebody who has neither its room nor every processor; left out: as it is */
export async function exportPackage(
  sql: Sql,
  id: string,
  receiver?: ReceiverForm
): Promise<{ name: string; stream: Readable }> {
  const whole = (await loadSession(sql, id)).session
  const session = receiver ? withoutIdleMedia(receiverSession(whole, receiver).session) : whole
  const zip = new yazl.ZipFile()
  const options = { mtime: EPOCH, mode: 0o100644, compress: false }
  const taken = new Set<string>(),
    files = new Map<string, { file: string; sha256: string; legs: number }>()
  const medium: Session['medium'] = {}
  for (const m of rows(session, 'medium').sort(byId)) {
    // Two rows of the same audio share a file.
    const { file } = files.get(`${m.sha256} ${m.legs}`) ?? { file: audioName(m.name, taken) }
    files.set(`${m.sha256} ${m.legs}`, { file, sha256: m.sha256, legs: m.legs })
    medium[m.id] = { ...m, file }
  }
  zip.addBuffer(Buffer.from(writePackage({ ...session, medium })), 'session.json', options)
  for (const { file, sha256, legs } of files.values()) {
    const info = await mediumInfo(sql, sha256, legs)
    await assertWhole(sql, info, file)
    zip.addReadStreamLazy(file, options, done =>
      done(null as never, Readable.from(wavBytes(storedAudio(sql, info), '32f')))
    )
  }
  for (const sha256 of photosOf(session)) zip.addBuffer(await readPhoto(sql, sha256), photoFile(sha256), options)
  zip.end()
  const stream = (zip.outputStream as unknown as Readable).pipe(new PassThrough())
  // What cannot be read in the middle breaks the download, and nothing else.
  ;(zip as unknown as EventEmitter).on('error', (error: Error) => stream.destroy(error))
  return { name: receiver ? `${settings(session).name}, for the receiver` : settings(session).name, stream }
}

/** Audio that nothing plays any more stays at home. */
function withoutIdleMedia(session: Session): Session {
  const used = mediaInUse(session)
  return { ...session, medium: Object.fromEntries(Object.entries(session.medium).filter(([id]) => used.has(id))) }
}

/** A folder or zip becomes a session. Everything is checked before anything is stored. */
export async function importPackage(sql: Sql, id: string, path: string): Promise<{ id: string; notes: string[] }> {
  const pack = await openPackage(path)
  const written: Imported[] = []
  try {
    const { session } = pack
    const rate = settings(session).sampleRate
    const byFile = new Map<string, Imported>()
    for (const m of rows(session, 'medium')) {
      let done = byFile.get(m.file)
      if (!done) {
        const file = join(pack.folder, m.file)
        const { shape } = inspectWav(file, m.file)
        const pieces = wavPieces(
          createReadStream(file, { highWaterMark: 1 << 20 }),
          basename(file),
          (await stat(file)).size
        )
        const audio = (async function* () {
          for await (const p of pieces) yield p.audio
        })()
        done = await writeMedium(sql, audio, shape.legs, shape.sampleRate, rate)
        byFile.set(m.file, done)
        written.push(done)
      }
      // What the package says of samples that are still the same is kept to the last digit.
      const levels = m.sha256 === done.info.sha256 ? {} : { peakDb: done.peakDb, loudnessLufs: done.loudnessLufs }
      session.medium[m.id] = {
        ...m,
        sha256: done.info.sha256,
        frames: done.info.frames,
        legs: done.info.legs,
        ...levels
      }
    }
    const lost = await photosFrom(sql, pack.folder, session)
    await sql.begin(async t => {
      for (const w of written) await w.writer.publish(t, w.info)
      await createSession(t, id, session)
    })
    return { id, notes: [...pack.notes, ...lost] }
  } catch (error) {
    for (const w of written) await w.writer.discard()
    throw error
  } finally {
    await pack.dispose()
  }
}

/** Photographs of units that lie in a package. @returns a sentence for each that does not, and is left out */
async function photosFrom(sql: Sql, folder: string, session: Session): Promise<string[]> {
  const there = new Map<string, boolean>()
  for (const sha256 of photosOf(session)) {
    const path = join(folder, photoFile(sha256))
    const bytes = (await stat(path).catch(() => null))?.size ?? Infinity
    const jpeg = bytes <= MOST_PHOTO_BYTES ? await readFile(path) : null
    there.set(sha256, jpeg !== null && createHash('sha256').update(jpeg).digest('hex') === sha256)
    if (there.get(sha256)) await keepPhoto(sql, jpeg!)
  }
  const notes: string[] = []
  for (const unit of rows(session, 'unit')) {
    const photos = unit.photos.filter(p => there.get(p.sha256))
    if (photos.length === unit.photos.length) continue
    notes.push(`${unit.photos.length - photos.length} photographs of “${unit.name}” are not in the package`)
    session.unit[unit.id] = { ...unit, photos }
  }
  return notes
}
