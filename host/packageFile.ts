// Session packages on disk: a folder, or a zip of one. Zips are unpacked into a temporary folder within limits.
import { createWriteStream, rmSync } from 'node:fs'
import { mkdir, readdir, readFile, realpath, rm, stat } from 'node:fs/promises'
import { dirname, join, normalize, sep } from 'node:path'
import { pipeline } from 'node:stream/promises'
import yauzl from 'yauzl'
import { readPackage } from '@nullet/core/formats/package'
import { firstBreach, OF_AUDIO } from '@nullet/core/invariants/index'
import { MOST_LEGS } from '@nullet/core/formats/soundFile'
import { Refusal } from '@nullet/core/foundation/refusal'
import { rows, settings, type Session } from '@nullet/core/session/session'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import { inspectWav, WavFile } from './wavFile'
import { resampledFile } from './resample'
import { makeTemporary } from './temporary'

export interface OpenPackage {
  folder: string
  session: Session
  notes: string[]
  dispose(): Promise<void>
}

/** The most that a package may unpack to. */
const MOST_BYTES = 64 * 2 ** 30
const MOST_ENTRIES = 20000
/** The document of a session of thousands of channels takes a few of these; what is longer holds everybody else up. */
const MOST_DOCUMENT_BYTES = 32 * 2 ** 20
/** Audio does not shrink further than this; what claims to is not audio. */
const MOST_RATIO = 1000

const bad = (message: string) => new Refusal('badPackage', message, [], 'Nothing was imported.')

/** @throws Refusal that names the file, row or entry that is wrong */
export async function openPackage(path: string): Promise<OpenPackage> {
  const info = await stat(path).catch(() => null)
  if (!info) throw new Refusal('notFound', `There is no package at ${path}`)
  if (info.isDirectory()) {
    const folder = await documentFolder(path)
    return { ...(await load(folder)), folder, dispose: async () => {} }
  }
  const folder = await makeTemporary('package')
  const dispose = () => rm(folder, { recursive: true, force: true })
  try {
    await unzip(path, folder)
    const inside = await documentFolder(folder)
    return { ...(await load(inside)), folder: inside, dispose }
  } catch (error) {
    await dispose()
    throw error
  }
}

/** Where session.json lies: here, or in the one folder that is here. */
async function documentFolder(path: string): Promise<string> {
  if (await stat(join(path, 'session.json')).catch(() => null)) return path
  const inside = (await readdir(path, { withFileTypes: true })).filter(
    e => !e.name.startsWith('.') && e.name !== '__MACOSX'
  )
  return inside.length === 1 && inside[0]!.isDirectory() ? join(path, inside[0]!.name) : path
}

async function load(folder: string): Promise<{ session: Session; notes: string[] }> {
  const document = join(folder, 'session.json'),
    root = await realpath(folder)
  const size = (await stat(document).catch(() => null))?.size ?? 0
  if (size > MOST_DOCUMENT_BYTES)
    throw bad(`session.json has ${Math.round(size / 2 ** 20)} MB; at most ${MOST_DOCUMENT_BYTES / 2 ** 20} MB are read`)
  const text = await readFile(document, 'utf8').catch(() => {
    throw bad('The package has no session.json')
  })
  const { session, notes } = readPackage(text)
  for (const medium of rows(session, 'medium')) {
    const inside = normalize(medium.file)
    if (!medium.file || inside.startsWith('..') || inside.startsWith(sep))
      throw bad(`The medium “${medium.id}” names a file outside the package: ${medium.file || '(none)'}`)
    const path = join(folder, inside)
    const real = await realpath(path).catch(() => null)
    if (real && real !== root && !real.startsWith(root + sep))
      throw bad(`The medium “${medium.id}” names ${medium.file}, which is a link out of the package`)
    if (!real || !(await stat(real)).isFile())
      throw bad(`The medium “${medium.id}” names ${medium.file}, which is not a file in the package`)
    const { shape } = inspectWav(path, medium.file)
    if (shape.legs > MOST_LEGS)
      throw bad(
        `${medium.file} has ${shape.legs} legs; at most ${MOST_LEGS} fit one track. Split it into ${shape.legs} mono files.`
      )
    const rate = settings(session).sampleRate
    const frames = shape.sampleRate === rate ? shape.frames : Math.round((shape.frames * rate) / shape.sampleRate)
    if (shape.sampleRate !== rate)
      notes.push(`${medium.file} is at ${shape.sampleRate} Hz and was converted to ${rate} Hz`)
    session.medium[medium.id] = {
      ...medium,
      legs: shape.legs,
      frames,
      sampleRate: rate,
      originalRate: shape.sampleRate === rate ? medium.originalRate : shape.sampleRate
    }
  }
  const breach = firstBreach(session, OF_AUDIO)
  if (breach) throw new Refusal('badPackage', breach.message, breach.about, 'Nothing was imported.')
  return { session, notes }
}

/** Audio of an open package. */
export class PackageMedia implements MediaReader {
  private readonly files = new Map<string, WavFile>()
  /** Where converted copies lie until `close`. */
  private converted: string | null = null
  constructor(private readonly pack: OpenPackage) {}

  /** Converts what is at another rate; to be called once before reading. */
  async prepare(): Promise<this> {
    const rate = settings(this.pack.session).sampleRate
    for (const medium of rows(this.pack.session, 'medium')) {
      const path = join(this.pack.folder, medium.file)
      const { shape } = inspectWav(path, medium.file)
      this.files.set(
        medium.id,
        new WavFile(
          shape.sampleRate === rate
            ? path
            : await resampledFile(
                path,
                rate,
                join((this.converted ??= await makeTemporary('rate')), `${this.files.size}.wav`)
              )
        )
      )
    }
    return this
  }

  read(medium: string, from: number, frames: number): Float32Array[] {
    return this.files.get(medium)!.read(from, frames)
  }
  close(): void {
    for (const f of this.files.values()) f.close()
    if (this.converted) rmSync(this.converted, { recursive: true, force: true })
  }
}

async function unzip(path: string, folder: string): Promise<void> {
  const zip = await yauzl.openPromise(path, { validateEntrySizes: true }).catch((e: Error) => {
    throw bad(`The package is neither a folder nor a zip: ${e.message}`)
  })
  let bytes = 0,
    count = 0
  try {
    for await (const entry of zip.eachEntry()) {
      if (++count > MOST_ENTRIES) throw bad(`The zip has more than ${MOST_ENTRIES} entries`)
      if (entry.fileName.endsWith('/')) continue
      bytes += entry.uncompressedSize
      if (
        bytes > MOST_BYTES ||
        (entry.uncompressedSize > 1e6 && entry.uncompressedSize > entry.compressedSize * MOST_RATIO)
      ) {
        throw bad(
          `${entry.fileName} would unpack to ${entry.uncompressedSize} bytes from ${entry.compressedSize}: that is not audio`
        )
      }
      const target = join(folder, entry.fileName)
      if (!target.startsWith(folder + sep)) throw bad(`${entry.fileName} would be unpacked outside the package`)
      await mkdir(dirname(target), { recursive: true })
      await pipeline(await zip.openReadStreamPromise(entry), createWriteStream(target))
    }
  } catch (error) {
    throw error instanceof Refusal ? error : bad(`The zip cannot be read: ${(error as Error).message}`)
  } finally {
    zip.close()
  }
}
