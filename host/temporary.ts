// Temporary folders, each with the process it belongs to in its name: they go with their work, and what a killed
// process left goes when another one starts.
import { readdirSync, rmSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const NAME = /^nullet-tmp-[a-z]+-(\d+)-/

/** @param what small letters that say what for */
export const makeTemporary = (what: string): Promise<string> =>
  mkdtemp(join(tmpdir(), `nullet-tmp-${what}-${process.pid}-`))

export async function inTemporary<T>(what: string, use: (folder: string) => Promise<T>): Promise<T> {
  const folder = await makeTemporary(what)
  try {
    return await use(folder)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

function runs(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

/** Removes folders of processes that are no more. @returns how many */
export function sweepTemporary(): number {
  const left = readdirSync(tmpdir()).filter(name => {
    const pid = NAME.exec(name)?.[1]
    return pid && !runs(Number(pid))
  })
  for (const name of left) rmSync(join(tmpdir(), name), { recursive: true, force: true })
  return left.length
}
