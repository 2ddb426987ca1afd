// What others take for the same work. ffmpeg, written its fastest way: mono mixes a group and a send, large blocks,
// echoes for reverbs. And a native program for this machine alone, see native/headline.c.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'

export function ffmpegGraph(inputs: string[], tracks: number): string[] {
  const parts: string[] = []
  const groups = Array.from({ length: 12 }, () => [] as string[]),
    sends = Array.from({ length: 4 }, () => [] as string[])
  for (let i = 0; i < tracks; i++) {
    const key = i ? `[k${i - 1}]` : ''
    const splitKey = i < tracks - 1
    parts.push(
      `[${i}:a]aformat=channel_layouts=mono,asetnsamples=8192${splitKey ? `,asplit=2[s${i}][k${i}]` : `[s${i}]`}`
    )
    const eq = 'bass=g=-3:f=110,equalizer=f=900:t=q:w=0.7:g=2,treble=g=1.5:f=6000'
    parts.push(
      i
        ? `[s${i}]${eq}[e${i}];[e${i}]${key}sidechaincompress=threshold=0.063:ratio=3:attack=10:release=120[c${i}]`
        : `[s${i}]${eq},acompressor=threshold=0.063:ratio=3:attack=10:release=120[c${i}]`
    )
    parts.push(`[c${i}]volume=-12dB,asplit=5[g${i}][a${i}][b${i}][d${i}][f${i}]`)
    groups[i % 12].push(`[g${i}]`)
    ;['a', 'b', 'd', 'f'].forEach((name, r) => sends[r].push(`[${name}${i}]`))
  }
  groups.forEach((list, g) => parts.push(`${list.join('')}amix=inputs=${list.length}:normalize=0[m${g}]`))
  sends.forEach((list, r) =>
    parts.push(
      `${list.join('')}amix=inputs=${list.length}:normalize=0,volume=${-18 - r}dB,aecho=0.8:0.9:${60 + r * 11}|${97 + r * 13}:0.4|0.3[r${r}]`
    )
  )
  parts.push(
    `${groups.map((_, g) => `[m${g}]`).join('')}${sends.map((_, r) => `[r${r}]`).join('')}amix=inputs=16:normalize=0,alimiter=limit=0.7,aformat=channel_layouts=stereo[out]`
  )
  return [
    '-v',
    'error',
    '-nostats',
    '-y',
    ...inputs.flatMap(f => ['-i', f]),
    '-filter_complex_threads',
    '1',
    '-threads',
    '1',
    '-filter_complex',
    parts.join(';'),
    '-map',
    '[out]',
    '-f',
    'null',
    '-'
  ]
}

export const hasFfmpeg = () => spawnSync('ffmpeg', ['-version']).status === 0
export function runFfmpeg(args: string[]): number {
  const began = process.hrtime.bigint()
  const { status, stderr } = spawnSync('ffmpeg', args, { encoding: 'utf8' })
  if (status !== 0) throw new Error(stderr.slice(0, 400))
  return Number(process.hrtime.bigint() - began) / 1e9
}

/** The native program, compiled into a folder; null where there is no compiler. Its figure is × real time. */
export function nativeHeadline(folder: string): ((seconds: number) => number) | null {
  const program = join(folder, 'headline'),
    source = join(process.cwd(), 'bench/native/headline.c')
  if (spawnSync('gcc', ['-O3', '-march=native', '-ffast-math', source, '-lm', '-o', program]).status !== 0) return null
  return seconds => Number(spawnSync(program, [String(seconds)], { encoding: 'utf8' }).stdout.split(' ')[0])
}
