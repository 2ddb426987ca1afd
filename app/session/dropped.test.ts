import { describe, expect, it } from 'vitest'
import { droppedOn, sorted } from './dropped'

const file = (name: string) => new File(['x'], name)
const names = (list: File[]) => list.map(f => f.name)

const leaf = (name: string) => ({
  isFile: true,
  isDirectory: false,
  file: (done: (f: File) => void) => done(file(name))
})
const folder = (...inside: object[]) => ({
  isFile: false,
  isDirectory: true,
  createReader() {
    // Told in two portions and an end.
    const portions = [inside.slice(0, 1), inside.slice(1), []]
    return { readEntries: (done: (e: object[]) => void) => done(portions.shift() ?? []) }
  }
})
const transfer = (...entries: object[]) =>
  ({
    items: entries.map(e => ({ webkitGetAsEntry: () => e })),
    files: entries.filter(e => 'file' in e).map(() => file('loose.xyz'))
  }) as unknown as DataTransfer

describe('what is dropped', () => {
  it('is audio, notes and packages; loose files are tried whatever they are called', () => {
    const { files, packages, others } = sorted(['a.wav', 'b.AIFF', 'c.mid', 'd.zip', 'e.txt'].map(file))
    expect([names(files), names(packages), others]).toEqual([['a.wav', 'b.AIFF', 'c.mid', 'e.txt'], ['d.zip'], 0])
  })

  it('of a folder is what is in it and below, without what is no audio', async () => {
    const drop = transfer(
      folder(leaf('a.flac'), folder(leaf('b.wav'), leaf('notes.txt')), leaf('.hidden.wav'), leaf('p.zip'))
    )
    const { files, packages, others } = await droppedOn(drop)
    expect([names(files), names(packages), others]).toEqual([['a.flac', 'b.wav'], ['p.zip'], 2])
  })

  it('as files alone is taken as it is', async () => {
    expect(names((await droppedOn(transfer(leaf('loose.xyz')))).files)).toEqual(['loose.xyz'])
  })
})
