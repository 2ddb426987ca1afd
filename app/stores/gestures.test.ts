// Hands on strips and channels: what is asked, what becomes of the answer, what goes along.
import { beforeEach, describe, expect, it } from 'vitest'
import { demoLike } from '@nullet/core/testing/demoLike'
import { rows, slotsOf } from '@nullet/core/session/session'
import { usePasses } from './passes'
import { answering, openStage, type Stage } from './testing'

let stage: Stage
async function hands() {
  const [{ useSession }, { useGestures }, { useStrips }, { useSelection }, { useNotices }, { useShell }, { useAsk }] =
    await Promise.all([
      import('./session'),
      import('./gestures'),
      import('./strips'),
      import('./selection'),
      import('./notices'),
      import('./shell'),
      import('./ask')
    ])
  return {
    store: useSession(),
    gestures: useGestures(),
    strips: useStrips(),
    selection: useSelection(),
    notices: useNotices(),
    shell: useShell(),
    ask: useAsk()
  }
}
beforeEach(async () => {
  stage = await openStage(demoLike().session)
})
const feeds = (s: Awaited<ReturnType<typeof hands>>['store'], from: string) =>
  rows(s.session!, 'feed')
    .filter(f => f.from === from)
    .map(f => `${f.kind} ${f.to ?? f.slot ?? f.ports}`)
    .sort()

describe('gestures', () => {
  it('a submix of what is selected is asked for its name, made and selected; nothing selected is said', async () => {
    const { store, gestures, selection, notices } = await hands()
    await gestures.newSubmix([])
    expect(notices.list[0]!.message).toMatch(/Select the channels/)
    await answering(gestures.newSubmix(['low', 'edge']), 'Skins')
    const made = rows(store.session!, 'channel').find(c => c.name === 'Skins')!
    expect(selection.list).toEqual([made.id])
    expect(feeds(store, 'low')).toContain(`main ${made.id}`)
    expect(feeds(store, made.id)).toEqual(['main drums'])
    await answering(gestures.newSubmix(['voice']), null)
    expect(store.undos).toHaveLength(1)
  })

  it('a return comes with its effect and offers a send from what was selected', async () => {
    const { store, gestures, selection, notices } = await hands()
    selection.set(['voice'], 'voice')
    await answering(gestures.newBus('return', 'return'), 'delay', 'Echo')
    const echo = rows(store.session!, 'channel').find(c => c.name === 'Echo')!
    expect(slotsOf(store.session!, echo.id).map(s => s.processor)).toEqual(['delay'])
    notices.list.at(-1)!.action!.run()
    expect(feeds(store, 'voice')).toContain(`send ${echo.id}`)
  })

  it('destinations that would be refused say why before they are chosen', async () => {
    const { gestures, ask } = await hands()
    const asked = gestures.askFeed(['main'])
    expect(ask.question!.choices!.find(c => c.value === 'drums')!.refused).toMatch(/circle/)
    ask.close(null)
    await asked
  })

  it('feeds, sends, keys and silent triggers go where the answer says; nowhere unassigns', async () => {
    const { store, gestures } = await hands()
    const key = rows(store.session!, 'slot').find(s => s.processor === 'compressor')!.id
    await answering(gestures.askFeed(['voice']), 'drums')
    await answering(gestures.askAlso(['voice']), 'singers')
    await answering(gestures.askSend(['voice'], 'pre'), 'hall')
    expect(feeds(store, 'voice')).toEqual(['main drums', 'main singers', 'send hall'])
    await answering(gestures.askFeed(['voice']), '-')
    expect(feeds(store, 'voice')).toEqual(['send hall'])
    await answering(gestures.askKey(['other']), key)
    await answering(gestures.askSilentTrigger(['edge']), key)
    expect(feeds(store, 'other')).toContain(`key ${key}`)
    expect(feeds(store, 'edge')).toEqual([`key ${key}`])
  })

  it('ports that a plugged loop holds cannot be chosen; a slot moves with its place, a loop is not copied', async () => {
    const { store, gestures, shell, ask, notices } = await hands()
    const asked = gestures.askPorts(['main'], 'out')
    expect(ask.question!.choices!.find(c => c.value === 'desk-out-1')!.refused).toMatch(/Amp loop/)
    ask.close('desk-out-2')
    await asked
    expect(feeds(store, 'main')).toEqual(['port desk-out-2'])
    await answering(gestures.addSlot('voice'), 'limiter')
    const slot = slotsOf(store.session!, 'voice')[0]!
    expect([shell.railOf, shell.openSlot]).toEqual(['voice', slot.id])
    await answering(gestures.dropSlot(slot.id, 'other'), 'copy')
    expect([slotsOf(store.session!, 'voice'), slotsOf(store.session!, 'other')].map(l => l.length)).toEqual([1, 1])
    await answering(gestures.askMoveSlot('amp-slot', true), 'voice')
    expect(notices.list.at(-1)!.message).toMatch(/one place at a time/)
  })

  it('printing these goes to the passes with their taps', async () => {
    const { gestures } = await hands()
    gestures.printThese(['drums', 'voice'])
    expect(usePasses().wanted).toMatchObject([
      { source: 'drums', tap: 'post', share: null, through: null },
      { source: 'voice' }
    ])
    expect(stage.went).toMatchObject([{ path: '/s/s/passes' }])
  })
})

describe('strips', () => {
  it('linked ones go along in what the link moves, unless links are lifted', async () => {
    const { store, strips, shell } = await hands()
    await answering(strips.link(['low', 'edge']), 'Skins')
    strips.toggle(['low'], 'muted')
    expect(['low', 'edge', 'voice'].map(id => store.session!.channel[id]!.muted)).toEqual([true, true, false])
    await answering(strips.askLinked(['low']), 'mutes')
    strips.toggle(['low'], 'muted')
    expect(['low', 'edge'].map(id => store.session!.channel[id]!.muted)).toEqual([false, true])
    strips.setLevel('low', ['low'], 0, -4)
    expect(['low', 'edge'].map(id => store.session!.channel[id]!.levelDb)).toEqual([-4, -4])
    shell.toggleLifted()
    strips.setLevel('low', ['low'], -4, -6)
    expect(['low', 'edge'].map(id => store.session!.channel[id]!.levelDb)).toEqual([-6, -4])
    strips.unlink(['low'])
    expect(store.session!.link).toEqual({})
  })

  it('levels, pans and names that cannot be read are said, and change nothing', async () => {
    const { store, strips, ask } = await hands()
    const faultOf = async (asking: Promise<unknown>, text: string) => {
      const fault = ask.question!.fault!(text)
      await answering(asking, text)
      return fault
    }
    expect(await faultOf(strips.askLevel(['low']), 'loud')).toBe('“loud” is not a number in dB')
    expect(await faultOf(strips.askLevel(['low']), '90')).toBe('−150 to 12 dB')
    expect(await faultOf(strips.askPan(['low']), 'middle')).toBe('“middle” is not a pan: L100 to R100, or C')
    expect(store.undos).toEqual([])
    await answering(strips.askLevel(['low']), '-inf')
    await answering(strips.askPan(['low']), 'L40')
    expect(store.session!.channel.low).toMatchObject({ levelDb: null, pan: -0.4 })
    await answering(strips.askLevelBy(['edge', 'voice']), '-3')
    expect(['edge', 'voice'].map(id => store.session!.channel[id]!.levelDb)).toEqual([-3, -3])
    await answering(strips.renameSeries(['low', 'edge']), 'Skin ##')
    expect(['low', 'edge'].map(id => store.session!.channel[id]!.name)).toEqual(['Skin 01', 'Skin 02'])
  })

  it('a bus that is removed asks where its feeders go, offers undo, and clears the selection', async () => {
    const { store, strips, selection, notices } = await hands()
    selection.set(['drums'], 'drums')
    await answering(strips.remove(['drums']), 'singers')
    expect(feeds(store, 'low')).toContain('main singers')
    expect(selection.list).toEqual([])
    notices.list.at(-1)!.action!.run()
    expect(store.session!.channel.drums).toBeDefined()
    expect(feeds(store, 'low')).toContain('main drums')
  })

  it('a layout in which legs would be lost asks first; solo is cleared everywhere', async () => {
    const { store, strips } = await hands()
    store.apply('setLayout', { ids: ['drums'], layout: ['L', 'R', 'C', 'LFE', 'Ls', 'Rs'], dropping: true })
    store.apply('setLayout', { ids: ['main'], layout: ['L', 'R', 'C', 'LFE', 'Ls', 'Rs'], dropping: true })
    await answering(strips.askLayout(['main']), 'stereo', 'leave')
    expect(store.session!.channel.main!.layout).toHaveLength(6)
    await answering(strips.askLayout(['main']), 'stereo', 'drop')
    expect(store.session!.channel.main!.layout).toEqual(['L', 'R'])
    strips.toggle(['low', 'voice'], 'soloed')
    strips.clearSolo()
    expect(rows(store.session!, 'channel').filter(c => c.soloed)).toEqual([])
  })
})
