// What a hand drops on a page: files, and folders with all that is in them.

import { isSoundName, SOUND_ENDINGS } from '@nullet/core/formats/soundFile'

export const isMidi = (f: File): boolean => /\.midi?$/i.test(f.name)
const PACKAGE = /\.zip$/i
export const ACCEPTED = [...SOUND_ENDINGS, 'mid', 'midi'].map(e => `.${e}`).join()

export interface Dropped {
  /** Audio and notes, in the order of their paths. */ files: File[]
  packages: File[]
  /** Of a folder, what is neither: pictures, texts, what a system puts there. */ others: number
}

/** @param loose files that were chosen one by one are tried whatever they are called */
export function sorted(all: readonly File[], loose = new Set(all)): Dropped {
  const packages = all.filter(f => PACKAGE.test(f.name))
  const rest = all.filter(f => !PACKAGE.test(f.name))
  const files = rest.filter(f => !f.name.startsWith('.') && (isSoundName(f.name) || isMidi(f) || loose.has(f)))
  return { files, packages, others: rest.length - files.length }
}

/** Must be called while the drop is handled: later its items are gone. */
export async function droppedOn(transfer: DataTransfer): Promise<Dropped> {
  const entries = [...transfer.items].map(i => i.webkitGetAsEntry()).filter(e => e !== null)
  if (!entries.some(e => e.isDirectory)) return sorted([...transfer.files])
  const loose = new Set<File>(),
    all: File[] = []
  for (const entry of entries) {
    const found = await within(entry)
    if (entry.isFile) found.forEach(f => loose.add(f))
    all.push(...found)
  }
  return sorted(all, loose)
}

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) return [await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail))]
  const reader = (entry as FileSystemDirectoryEntry).createReader()
  const all: File[] = []
  // A folder is told in portions; an empty one is its end.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail))
    if (!part.length) return all
    for (const e of part) all.push(...(await within(e)))
  }
}
