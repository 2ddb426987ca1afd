// Audio into the database and out again: exact samples, other rates, and everything that is wrong with files.
import { describe, expect, inject, it } from 'vitest'
import { WavReader } from '@nullet/core/formats/wavReader'
import { rmsDb, sine, whiteNoise } from '@nullet/core/testing/sound'
import { rows } from '@nullet/core/session/session'
import { client, wav } from './testing'

const { url } = inject('stage')
const http = client(url)

async function stored(id: string, medium: string, depth = '32f', range?: string): Promise<Uint8Array> {
  const answer = await fetch(
    `${url}/api/sessions/${id}/wav?medium=${medium}&depth=${depth}`,
    range ? { headers: { range } } : {}
  )
  return new Uint8Array(await answer.arrayBuffer())
}
const decoded = (bytes: Uint8Array) => {
  const r = new WavReader('x', bytes.length)
  const a = r.push(bytes)!
  r.end()
  return a
}

describe('a file', () => {
  it('becomes a track that feeds the main, with samples exactly as they were', async () => {
    const id = await http.make()
    const audio = [whiteNoise(300000, 1), whiteNoise(300000, 2)]
    expect((await http.upload(id, 'a', 'Frame drum low.wav', wav(audio))).status).toBe(200)
    const { session } = await http.session(id)
    expect(session.channel.a).toMatchObject({
      name: 'Frame drum low',
      family: 'Percussion',
      familyGuessed: true,
      layout: ['L', 'R']
    })
    expect(rows(session, 'feed')).toMatchObject([{ from: 'a', to: 'main' }])
    const medium = rows(session, 'medium')[0]
    expect(medium).toMatchObject({ frames: 300000, legs: 2, originalRate: null })
    expect(medium.peakDb).toBeCloseTo(20 * Math.log10(0.5), 2)
    expect(decoded(await stored(id, medium.id))).toEqual(audio)
  })

  it('of any length of bytes at a time is the same, and so is any range of the download', async () => {
    const id = await http.make()
    await http.upload(id, 'a', 'a.wav', wav([whiteNoise(70001, 5)]))
    for (const depth of ['24', '32f']) {
      const whole = await stored(id, 'a-m', depth)
      for (const [from, to] of [
        [0, 10],
        [3, 60],
        [40, 200003],
        [131072, 131080],
        [whole.length - 5, whole.length - 1]
      ]) {
        expect(
          Buffer.from(await stored(id, 'a-m', depth, `bytes=${from}-${to}`)).equals(
            Buffer.from(whole.subarray(from, to + 1))
          )
        ).toBe(true)
      }
    }
  })

  it('of silence is told apart from silence of other legs, although the bytes are the same', async () => {
    const id = await http.make()
    await http.upload(id, 'mono', 'quiet.wav', wav([new Float32Array(8000)]))
    await http.upload(id, 'pair', 'quiet pair.wav', wav([new Float32Array(4000), new Float32Array(4000)]))
    const media = rows((await http.session(id)).session, 'medium')
    expect(new Set(media.map(m => m.sha256)).size).toBe(1)
    for (const m of media) {
      const answer = await fetch(`${url}/api/media/segments`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ parts: [{ sha256: m.sha256, legs: m.legs, from: 0, frames: 1000 }] })
      })
      expect((await answer.arrayBuffer()).byteLength).toBe(m.legs * 4000)
    }
  })

  it('at another rate is converted, said, and keeps its frequency, level and place', async () => {
    const id = await http.make()
    const { body } = await http.upload(id, 'a', 'tone.wav', wav([sine(44100, 997, 0.5, 44100)], '32f', 44100))
    expect(body.notes).toEqual(['tone.wav was at 44100 Hz and was converted to 48000 Hz'])
    const { session } = await http.session(id)
    expect(session.medium['a-m']).toMatchObject({ sampleRate: 48000, originalRate: 44100, frames: 48000 })
    const out = decoded(await stored(id, 'a-m'))[0]
    const wanted = sine(48000, 997, 0.5)
    const error = out.subarray(2000, 46000).map((x, n) => x - wanted[n + 2000])
    expect(rmsDb(error)).toBeLessThan(-90)
  })

  it('of 17 legs is refused with an offer, which is then taken: 17 mono tracks', async () => {
    const id = await http.make()
    const legs = Array.from({ length: 17 }, (_, i) => whiteNoise(50000, i + 1))
    const refused = await http.upload(id, 'a', 'wide.wav', wav(legs))
    expect(refused).toMatchObject({
      status: 422,
      body: { error: 'layout', message: expect.stringContaining('17 mono tracks') }
    })
    expect(rows((await http.session(id)).session, 'channel')).toHaveLength(1)
    expect((await http.upload(id, 'a', 'wide.wav', wav(legs), '&split=1')).status).toBe(200)
    const { session } = await http.session(id)
    expect(rows(session, 'channel').filter(c => c.kind === 'track')).toHaveLength(17)
    expect(decoded(await stored(id, 'a-17-m'))[0]).toEqual(legs[16])
  })
})

describe('what is wrong with a file', () => {
  const good = wav([whiteNoise(20000, 1)], 24)
  const changed = (change: (b: Uint8Array, v: DataView) => void) => {
    const b = good.slice()
    change(b, new DataView(b.buffer))
    return b
  }
  const nan = new Float32Array(5000)
  nan[3210] = NaN
  const infinite = new Float32Array(5000)
  infinite[7] = Infinity

  it.each([
    ['not a sound file', new TextEncoder().encode('This is a letter, not a recording. '.repeat(20)), /neither WAV/],
    ['nothing at all', new Uint8Array(0), /empty/],
    ['truncated', good.slice(0, 30000), /announces 60000 bytes/],
    ['no samples', wav([new Float32Array(0)]), /no samples/],
    ['a NaN', wav([nan]), /frame 3210 of leg 1 is not a number/],
    ['an infinite sample', wav([infinite]), /frame 7 of leg 1/],
    ['a header that lies', changed((_, v) => v.setUint32(40, 999999, true)), /announces 999999 bytes/],
    [
      '3 GB announced',
      changed((_, v) => v.setUint32(40, 3_000_000_000, true)).slice(0, 1024),
      /announces 3000000000 bytes/
    ],
    ['an impossible form', changed((_, v) => v.setUint16(20, 85, true)), /form that is not read here/]
  ])('%s: refused with the place, nothing is kept', async (_, bytes, message) => {
    const id = await http.make()
    await http.upload(id, 'first', 'first.wav', wav([whiteNoise(1000, 9)]))
    const answer = await http.upload(id, 'bad', 'bad.wav', bytes)
    expect(answer.status).toBe(422)
    expect(answer.body.message).toMatch(message)
    expect(answer.body.message).toContain('bad.wav')
    expect(answer.body.kept).toMatch(/Nothing of this file/)
    // What came before it stays.
    expect(
      rows((await http.session(id)).session, 'channel')
        .map(c => c.id)
        .sort()
    ).toEqual(['first', 'main'])
  })
})

describe('batches', () => {
  it('give the beginnings of all tracks in one answer', async () => {
    const { session } = await http.session('orrin')
    const media = rows(session, 'medium')
    const answer = await fetch(`${url}/api/media/segments`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ parts: media.map(m => ({ sha256: m.sha256, legs: m.legs, from: 0, frames: 4096 })) })
    })
    const all = new Float32Array(await answer.arrayBuffer())
    expect(all).toHaveLength(media.reduce((s, m) => s + m.legs, 0) * 4096)
    const first = decoded(await stored('orrin', media[0].id))[0].subarray(0, 4096)
    expect(all.subarray(0, 4096)).toEqual(first)
  })
})
