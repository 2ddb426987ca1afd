// The store of the open session: what is shown, what hands hold, what listeners are told, what comes from elsewhere.
import { beforeEach, describe, expect, it } from 'vitest'
import { Sketch } from '@nullet/core/testing/sketch'
import type { RowChange } from '@nullet/core/session/session'
import { openStage, type Stage } from './testing'

function small() {
  const k = new Sketch('Small')
  k.bus('main', { role: 'main' })
  k.bus('drums')
  k.main('drums', 'main')
  k.main(k.track('low'), 'drums')
  return k.session
}

let stage: Stage
const stores = async () => ({
  store: (await import('./session')).useSession(),
  notices: (await import('./notices')).useNotices()
})
beforeEach(async () => {
  stage = await openStage(small())
})

describe('the open session', () => {
  it('shows an edit at once, tells what changed once, and is saved', async () => {
    const { store } = await stores(),
      told: RowChange[][] = []
    store.onChanges(c => told.push(c))
    expect(store.apply('setChannels', { ids: ['low'], fields: { levelDb: -3 } })).toBe(true)
    expect([store.session!.channel.low!.levelDb, store.undos.map(u => u.label), store.status]).toEqual([
      -3,
      ['Level of “low”'],
      'saving'
    ])
    await store.catchUp()
    expect(store.status).toBe('saved')
    // The same row coming back from the server is no second change.
    expect(told.map(c => c.map(x => x.id))).toEqual([['low']])
  })

  it('keeps what is connected while levels move, and has it as it is after anything else', async () => {
    const { store } = await stores(),
      before = store.wiring
    expect(before).toBe(store.network)
    store.preview('channel', ['low'], () => ({ levelDb: -20 }))
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -3 } })
    expect(store.wiring).toBe(before)
    expect(store.network!.channel('low')!.levelDb).toBe(-3)
    // A mute and a level after it, and nobody looked in between.
    store.apply('setChannels', { ids: ['low'], fields: { muted: true } })
    store.apply('setChannels', { ids: ['drums'], fields: { levelDb: -1 } })
    const muted = store.wiring!
    expect(muted.channel('low')!.muted).toBe(true)
    store.apply('setChannels', { ids: ['drums'], fields: { levelDb: -2 } })
    expect(store.wiring).toBe(muted)
    store.undo()
    store.undo()
    store.undo()
    expect(store.wiring!.channel('low')!.muted).toBe(false)
  })

  it('a refused edit is said and shows nothing; a hand’s preview ends with it', async () => {
    const { store, notices } = await stores()
    store.preview('channel', ['low'], () => ({ levelDb: -20 }))
    expect(store.session!.channel.low!.levelDb).toBe(-20)
    expect(store.settled().channel.low!.levelDb).toBe(0)
    expect(store.apply('setMainFeed', { ids: ['main'], to: 'drums', feedIds: ['x'] })).toBe(false)
    expect(notices.list.map(n => [n.tone, n.message])).toEqual([['wrong', expect.stringMatching(/circle/)]])
    expect(store.session!.channel.low!.levelDb).toBe(0)
  })

  it('undo and redo go through the same door, and say what stands in the way', async () => {
    const { store, notices } = await stores()
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -3 } })
    await store.catchUp()
    store.undo()
    expect([store.session!.channel.low!.levelDb, store.undos.length, store.redos.length]).toEqual([0, 0, 1])
    store.redo()
    await store.catchUp()
    stage.server.store('x/1', 'x', { verb: 'setChannels', args: { ids: ['low'], fields: { levelDb: -9 } } })
    await store.catchUp()
    expect(store.undo()).toBe(false)
    expect(notices.list.at(-1)!.message).toMatch(
      /cannot be taken back: levelDb of the track “low” has been changed again since/
    )
    expect(store.session!.channel.low!.levelDb).toBe(-9)
  })

  it('hears of others’ edits, of its jobs, and catches up when the stream comes back', async () => {
    const { store } = await stores(),
      jobs: string[] = []
    store.onJob(j => jobs.push(j))
    stage.server.store('x/1', 'x', { verb: 'setChannels', args: { ids: ['low'], fields: { muted: true } } })
    stage.tell({ kind: 'edit', session: 'another', revision: 9 })
    expect(store.session!.channel.low!.muted).toBe(false)
    stage.tell({ kind: 'edit', session: 's', revision: 1 })
    await store.catchUp()
    expect(store.session!.channel.low!.muted).toBe(true)
    stage.tell({ kind: 'job', session: 's', job: 'j1' })
    stage.tell({ kind: 'job', session: 'another', job: 'j2' })
    stage.tell({ kind: 'open' })
    expect(jobs).toEqual(['j1', ''])
  })

  it('another session opened leaves nothing of the first, and the first still gets what was done in it', async () => {
    const { store } = await stores()
    store.apply('setChannels', { ids: ['low'], fields: { levelDb: -3 } })
    await store.open('other')
    expect(store.id).toBe('other')
    expect(store.undos).toEqual([])
    await store.catchUp()
    await expect.poll(() => stage.server.log.length).toBe(1)
    expect(store.undos).toEqual([])
    store.close()
    expect([store.session, store.status]).toEqual([null, 'loading'])
    expect(store.apply('setSession', { beatsPerBar: 3 })).toBe(false)
  })
})
