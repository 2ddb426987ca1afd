// The bus network at the size people work at: many channels at once, links, copies, mains compared, proposals,
// templates, tables, gain, questions, cost.
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows, type Session } from '@nullet/core/session/session'
import { loadDemo } from '../demo/load'
import { connectStore } from '../server/store/connect'
import { client } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, keys, makeSession, pick, readSession, saved } from './support/hands'

const { url, database } = inject('stage')
let page: Page,
  complaints: string[] = []
const folder = mkdtempSync(join(tmpdir(), 'nullet-network-'))
const session = () => readSession(url, 'net')
const named = (s: Session, name: string) => rows(s, 'channel').find(c => c.name === name)
const goes = (s: Session, from: string) =>
  rows(s, 'feed')
    .filter(f => f.kind === 'main' && f.from === from)
    .map(f => s.channel[f.to!]!.name)
    .sort()
const undo = async (times = 1) => {
  for (let i = 0; i < times; i++) {
    await page.click('[data-undo]')
    await saved(page)
  }
}
/** Leaves rail, question and selection. */
const leave = async () => {
  for (let i = 0; i < 4; i++) await page.keyboard.press('Escape')
}

beforeAll(async () => {
  const sql = connectStore(database, 4)
  await loadDemo(sql, 2, 'net')
  await sql.end()
  ;({ page, complaints } = await openPage(`${url}/s/net/network`))
  await page.waitForSelector('[data-channel=kora]')
})
afterEach(async () => {
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
})
afterAll(closeBrowser)

describe('many channels', () => {
  it('are made several at once, with names in series and one destination', async () => {
    await leave()
    await keys(page, 'n c')
    await page.waitForSelector('[data-sheet]')
    await page.fill('input[data-pattern]', 'Bell ##')
    await expect
      .poll(() => page.locator('[data-sheet] [data-preview]').innerText())
      .toBe('Bell 01, Bell 02, Bell 03, Bell 04')
    await page.click('[data-do]')
    await saved(page)
    const s = await session()
    expect(['Bell 01', 'Bell 04'].map(n => goes(s, named(s, n)!.id))).toEqual([['Main'], ['Main']])
    await undo()
    expect(named(await session(), 'Bell 01')).toBeUndefined()
  })

  it('are renamed in series with a preview, moved by so many dB, panned and coloured together', async () => {
    await leave()
    await pick(page, 'drum-low')
    await pick(page, 'drum-edge', 'Control')
    await keys(page, 'r s')
    await page.fill('#ask-field', 'Skin ##')
    await expect.poll(() => page.locator('[data-preview]').innerText()).toBe('Skin 01, Skin 02')
    await page.keyboard.press('Enter')
    await saved(page)
    const before = await session()
    expect(before.channel['drum-edge']!.name).toBe('Skin 02')
    await keys(page, 'l b')
    await answer(page, '-3')
    await saved(page)
    await keys(page, 'p a')
    await answer(page, 'L25')
    await saved(page)
    await keys(page, 'c o')
    await answer(page, 'lagoon')
    await saved(page)
    const after = await session()
    for (const id of ['drum-low', 'drum-edge'])
      expect(after.channel[id]).toMatchObject({ levelDb: before.channel[id]!.levelDb! - 3, pan: -0.25, colour: 3 })
    await undo(4)
  })

  it('are copied with what is chosen to go along', async () => {
    await leave()
    await pick(page, 'kora')
    await keys(page, 'd u')
    await page.click('[data-along=sends]')
    await page.click('[data-do]')
    await saved(page)
    const s = await session(),
      copy = named(s, 'Kora DI (2)')!
    expect(goes(s, copy.id)).toEqual(['Plucked strings'])
    expect(rows(s, 'feed').filter(f => f.from === copy.id && f.kind === 'send')).toEqual([])
    expect(rows(s, 'clip').filter(c => c.channel === copy.id)).toHaveLength(1)
    await undo()
  })

  it('that are linked move together and keep their distance, unless links are lifted', async () => {
    await leave()
    await pick(page, 'dulcimer-l')
    await pick(page, 'kalimba', 'Control')
    await keys(page, 'l k')
    await answer(page, 'Pair')
    await saved(page)
    await page.locator('[data-channel=kalimba] [title="linked: Pair (2)"]').waitFor()
    await leave()
    const before = await session()
    await page.locator('[data-channel=kalimba] [role=slider]').focus()
    await page.keyboard.press('PageDown')
    await saved(page)
    const moved = await session()
    for (const id of ['dulcimer-l', 'kalimba'])
      expect(moved.channel[id]!.levelDb).toBeCloseTo(before.channel[id]!.levelDb! - 3, 6)
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await pick(page, 'kalimba')
    await keys(page, 'm u')
    await saved(page)
    expect((await session()).channel['dulcimer-l']!.muted).toBe(true)
    await keys(page, 'l l')
    await page.waitForSelector('[data-lifted]')
    await keys(page, 'm u')
    await saved(page)
    expect([(await session()).channel['kalimba']!.muted, (await session()).channel['dulcimer-l']!.muted]).toEqual([
      false,
      true
    ])
    await page.click('[data-lifted]')
    await keys(page, 'l w')
    await answer(page, 'mutes')
    await saved(page)
    expect(rows(await session(), 'link')[0]).toMatchObject({ levels: true, mutes: false, solos: true })
    await undo(5)
    expect((await session()).link).toEqual({})
  })

  it('of any name are shown as text, and nothing in a name is run', async () => {
    await leave()
    await pick(page, 'shakers')
    for (const name of ['<img src=x onerror="document.title=1">', 'Shakers 🥁', 'טרק ימני', 'x'.repeat(300)]) {
      await keys(page, 'r n')
      await answer(page, name)
      await saved(page)
      await expect.poll(() => page.locator('.path h2.title').innerText()).toBe(name)
    }
    expect(await page.title()).not.toBe('1')
    await undo(4)
  })

  it('as compact strips show twice as many', async () => {
    await leave()
    await pick(page, 'kora')
    const height = async () => (await page.locator('[data-channel=kora]').boundingBox())!.height
    const wide = await height()
    await keys(page, 'v w')
    await expect.poll(height).toBeLessThan(wide * 0.7)
    await keys(page, 'v w')
    await expect.poll(height).toBe(wide)
  })
})

describe('the network', () => {
  it('a bus that others feed asks where they should go', async () => {
    await leave()
    await pick(page, 'plucked')
    await keys(page, 'r e')
    await expect
      .poll(() => page.locator('.ask .caption').first().innerText())
      .toBe('5 channels feed “Plucked strings”. Where should they go?')
    await expect
      .poll(() => page.locator('[role=option][aria-selected=true]').last().innerText())
      .toMatch(/Stem Plucked\s*where it went/)
    await answer(page, 'Main')
    await saved(page)
    expect(goes(await session(), 'kora')).toEqual(['Main'])
    await undo()
    expect(goes(await session(), 'kora')).toEqual(['Plucked strings'])
  })

  it('a bus that splits feeds two, and two mains are compared at equal loudness', async () => {
    await leave()
    await keys(page, 'n m')
    await answer(page, 'Night mix')
    await saved(page)
    await leave()
    for (const id of ['stem-plucked', 'stem-winds', 'stem-choir'])
      await pick(page, id, id === 'stem-plucked' ? undefined : 'Control')
    await keys(page, 'f a')
    await answer(page, 'Night mix')
    await saved(page)
    const s = await session()
    expect(goes(s, 'stem-winds')).toEqual(['Main', 'Night mix'])
    await page.click('[data-equal]')

    await expect.poll(() => page.locator('.compare').innerText()).toMatch(/measured from/)
    await expect.poll(() => page.locator('.compare .main .num').count()).toBe(2)
    const shown = await page.locator('.compare .main .num').allInnerTexts()
    expect(shown.map(t => Number(t.replace('−', '-').replace(' dB', ''))).filter(n => n < 0)).toHaveLength(1)
    await keys(page, 'h m')
    await saved(page)
    expect((await session()).session.session!.heardChannel).toBe(named(s, 'Night mix')!.id)
    await page.click('[data-equal]')
    await undo(3)
  })

  it('a narrower layout says what would be lost before it is', async () => {
    await leave()
    await pick(page, 'main')
    await keys(page, 'l a')
    await answer(page, '5.1')
    await saved(page)
    await pick(page, 'stem-plucked')
    await keys(page, 'l a')
    await answer(page, '5.1')
    await saved(page)
    await pick(page, 'main')
    await keys(page, 'l a')
    await page.fill('#ask-field', 'stereo')
    await page.keyboard.press('Enter')
    await expect
      .poll(() => page.locator('.ask .caption').first().innerText())
      .toBe('In stereo something would be lost: LFE of “Stem Plucked” in “Main”')
    await answer(page, 'Leave')
    expect((await session()).channel.main!.layout).toHaveLength(6)
    await undo(2)
  })

  it('a slot goes to another channel, dropped on its strip or by choice', async () => {
    await leave()
    await pick(page, 'plucked')
    await keys(page, 'o r')
    const slot = rows(await session(), 'slot').find(x => x.channel === 'plucked' && x.processor === 'equaliser')!.id
    await page.locator(`[data-slot="${slot}"]`).dragTo(page.locator('[data-channel=choir]'))
    await answer(page, 'Copy')
    await saved(page)
    expect(
      rows(await session(), 'slot')
        .filter(x => x.processor === 'equaliser')
        .map(x => x.channel)
        .sort()
    ).toEqual(['choir', 'narrator', 'plucked'])
    await page.click(`[data-slot="${slot}"]`)
    await page.click('[data-move-slot]')
    await answer(page, 'Winds')
    await saved(page)
    expect((await session()).slot[slot]!.channel).toBe('winds')
    await undo(2)
    await leave()
  })

  it('a slot is compared with and without, at equal loudness', async () => {
    await leave()
    await pick(page, 'plucked')
    await keys(page, 'o r')
    const slot = rows(await session(), 'slot').find(x => x.channel === 'plucked' && x.processor === 'equaliser')!.id
    await page.click(`[data-slot="${slot}"]`)
    await page.click('[data-compare]')
    await page.waitForSelector('[data-levels]')
    await page.click('[data-side=two]')
    await saved(page)
    expect((await session()).slot[slot]!.state).toBe('bypassed')
    const trims = async () =>
      page.evaluate(() => [
        ...(
          document.querySelector('#__nuxt')!.__vue_app__.config.globalProperties.$pinia._s.get('transport') as {
            trims: Map<string, number>
          }
        ).trims.values()
      ])
    const off = await trims()
    await page.click('[data-side=one]')
    await saved(page)
    // One of both is lowered, never raised.
    const both = [off[0]!, (await trims())[0]!].sort((a, b) => a - b)
    expect(both[1]).toBe(0)
    expect(both[0]).toBeLessThanOrEqual(0)
    await page.click('[data-blind]')
    await expect.poll(() => page.locator('[data-side=one]').innerText()).toBe('one')
    expect(await page.locator('.panel .head .el-radio-group').count()).toBe(0)
    await page.click('[data-end-compare]')
    await page.locator('.notice', { hasText: /“One” was with(out)? it/ }).waitFor()
    await saved(page)
    expect((await session()).slot[slot]!.state).toBe('on')
    expect(await trims()).toEqual([])
    await leave()
  })

  it('a trigger becomes silent in one gesture', async () => {
    await leave()
    await pick(page, 'drum-edge')
    await keys(page, 'k s')
    await answer(page, 'Compressor on Winds')
    await saved(page)
    const s = await session()
    expect(
      rows(s, 'feed')
        .filter(f => f.from === 'drum-edge')
        .map(f => f.kind)
    ).toEqual(['key'])
    await undo()
    expect(goes(await session(), 'drum-edge')).toEqual(['Stem Percussion'])
  })

  it('gain moves from tracks into their bus, and the null is shown', async () => {
    await leave()
    await pick(page, 'choir')
    await keys(page, 'm g')
    await page.click('[data-null]')
    await page.waitForSelector('[data-residual]')
    const text = await page.locator('[data-residual]').innerText()
    expect(text === 'identical' || Number(/−(\d+)/.exec(text)![1]) > 120, text).toBe(true)
    await page.click('[data-do]')
    await saved(page)
    const s = await session()
    expect([s.channel.choir!.levelDb, s.channel['choir-1']!.levelDb]).toEqual([-1, -9])
    await undo()
  })
})

describe('Path', () => {
  it('says why a channel is silent, and mends it', async () => {
    await leave()
    await pick(page, 'kora')
    await keys(page, 'm u')
    await saved(page)
    await keys(page, 'w s')
    await expect.poll(() => page.locator('[data-why]').innerText()).toMatch(/“Kora DI” is muted/)
    await page.click('[data-why] >> text=Open it')
    await saved(page)
    await expect.poll(() => page.locator('[data-why]').innerText()).toMatch(/Nothing in the network keeps it/)
    await undo(2)
  })

  it('measures what would change without it, and how much of what is heard it is', async () => {
    await pick(page, 'narrator')
    await keys(page, 'w w')
    await page.waitForSelector('[data-place=main]')
    await expect
      .poll(() => page.locator('[data-place=stem-narration]').innerText())
      .toMatch(/Stem Narration\s*(falls silent|silent as it is)/)
    expect(await page.locator('[data-place]', { hasText: 'key of compressor on Choir' }).count()).toBe(1)
    await pick(page, 'kora')
    await keys(page, 'w h')
    await page.waitForSelector('[data-lu]')
    expect(await page.locator('[data-lu]').innerText()).toMatch(/^(−\d+\.\d|0\.0) LU$/)
  })
})

describe('a table of crosspoints', () => {
  it('goes out, is changed by hand, and comes back with a preview; wrong lines are listed and nothing is done', async () => {
    await leave()
    await keys(page, 't c')
    const [download] = await Promise.all([page.waitForEvent('download'), page.click('[data-csv-out]')])
    const text = readFileSync((await download.path())!, 'utf8')
    expect(text.split('\r\n')[0]).toBe('\ufefffrom,feed,to,tap,level,pan,muted')
    const put = async (name: string, content: string) => {
      writeFileSync(join(folder, name), content)
      await page.setInputFiles('[data-csv]', join(folder, name))
    }
    await put('same.csv', text)
    await expect.poll(() => page.locator('[data-sum]').innerText()).toMatch(/0 to add, 0 to change, 0 to remove/)
    expect(await page.locator('[data-do]').isDisabled()).toBe(true)
    await put('wrong.csv', 'who,where\r\na,b\r\n')
    await expect
      .poll(() => page.locator('[data-sheet] [role=alert]').innerText())
      .toMatch(/“from”, “feed”, “to” are missing/)
    await put('half.csv', 'from,feed,to\r\nKora DI,send,Short room\r\nNobody,main,Main\r\n')
    await expect.poll(() => page.locator('[data-problems]').innerText()).toBe('line 3: there is no channel “Nobody”')
    expect(await page.locator('[data-do]').isDisabled()).toBe(true)
    await put('circle.csv', 'from,feed,to\r\nMain,main,Winds\r\n')
    await expect.poll(() => page.locator('[data-sheet] [role=alert]').innerText()).toMatch(/circle/)
    await put('good.csv', 'from,feed,to,level\r\nKora DI,send,Short room,-15\r\n')
    await expect.poll(() => page.locator('.changes').innerText()).toMatch(/send: Kora DI → Short room/)
    await page.click('[data-do]')
    await saved(page)
    expect(rows(await session(), 'feed').find(f => f.from === 'kora' && f.to === 'short-room')).toMatchObject({
      kind: 'send',
      levelDb: -15
    })
    await undo()
  })
})

describe('checks and rig', () => {
  it('listening for clipping finds the port that clips, and the fix mends it', async () => {
    await leave()
    await pick(page, 'main')
    await keys(page, 'f p')
    await answer(page, 'Loft out 1')
    await saved(page)
    const feed = rows(await session(), 'feed').find(f => f.kind === 'port')!.id
    await keys(page, 'l e')
    await answer(page, '12')
    await saved(page)
    await apply(page, 'setFeeds', { ids: [feed], fields: { levelDb: 30 } })
    await saved(page)
    await keys(page, 'v c')
    await page.click('[data-listen]')
    await page.locator('article', { hasText: 'Loft out 1 clips' }).waitFor()
    await page.locator('article', { hasText: 'Loft out 1 clips' }).locator('button', { hasText: 'less to it' }).click()
    await saved(page)
    expect((await session()).feed[feed]!.levelDb).toBeLessThan(30)
    await keys(page, 'v c')
    await undo(4)
  })

  it('a clock can run free and a loop be left as late as it is: both are stored', async () => {
    await leave()
    await page.click('nav >> text=Rig')
    await page.click('[data-new-loop]')
    await answer(page, 'Tube amplifier')
    await answer(page, 'Amp loop')
    await page.waitForSelector('[data-loop]')
    await page.click('[data-compensate]')
    await saved(page)
    expect(rows(await session(), 'loop')[0]!.compensated).toBe(false)
    await page.locator('.clock .el-select').first().click()
    await page.locator('.el-select-dropdown__item', { hasText: 'free' }).last().click()
    await saved(page)
    expect((await session()).interface['loft-io']!.clock).toBe('free')
    await undo(3)
    await page.click('nav >> text=Network')
    await page.waitForSelector('[data-channel=kora]')
  })
})

describe('cost', () => {
  it('is measured, shown by share, and parking is offered with what it saves', async () => {
    await leave()
    await keys(page, 'v o')
    await page.click('[data-measure]')
    await page.waitForSelector('[data-total]')
    const shares = await page.locator('[data-cost] .share .num').allInnerTexts()
    expect(shares.length).toBeGreaterThan(10)
    // Where the row stands follows from what was measured: the list is scrolled until it is drawn.
    const row = page.locator('[data-cost="short-room "]')
    for (let top = 0; top < 5000 && !(await row.count()); top += 200) {
      await page.locator('.cost .rows').evaluate((list, y) => list.scrollTo(0, y), top)
      await page.evaluate(() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done))))
    }
    await row.locator('text=park').click()
    await saved(page)
    expect((await session()).channel['short-room']!.parked).toBe(true)
    await undo()
    await keys(page, 'v m')
  })
})

describe('a bare session', () => {
  it('gets a network proposed, accepted in part or whole', async () => {
    await makeSession(url, 'bare')
    const bare = await openPage(`${url}/s/bare/network`)
    const at = bare.page
    await at.waitForSelector('[data-channel=main]')
    for (const [pattern, n] of [
      ['Choir #', 3],
      ['Frame drum #', 4]
    ] as const) {
      await keys(at, 'n c')
      await at.fill('input[data-pattern]', pattern)
      await at.locator('[data-count] .shown').click()
      await at.fill('[data-count] input', String(n))
      await at.keyboard.press('Enter')
      await at.click('[data-do]')
      await saved(at)
    }
    await keys(at, 'n p')
    await at.locator('[data-proposal="Stem “Choir”"] label').click()
    await at.click('[data-do]')
    await saved(at)
    const s = await readSession(url, 'bare')
    expect(
      rows(s, 'channel')
        .filter(c => c.kind === 'bus')
        .map(c => c.name)
        .sort()
    ).toEqual(['Choir', 'Hall', 'Main', 'Percussion', 'Room', 'Stem Percussion'])
    await at.click('[data-undo]')
    await saved(at)
    expect(
      rows(await readSession(url, 'bare'), 'channel')
        .filter(c => c.kind === 'bus')
        .map(c => c.name)
    ).toEqual(['Main'])
    await at.close()
  })

  it('gets the network of another one by a template, by name and by family; templates go out and in as files', async () => {
    await leave()
    await keys(page, 't e')
    await page.click('[data-save-template]')
    await answer(page, 'Dome network')
    await page.waitForSelector('[data-kept="Dome network"]')
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.click('[data-kept="Dome network"] >> text=save as a file')
    ])
    const file = join(folder, 'dome.template.json')
    writeFileSync(file, readFileSync((await download.path())!))
    await page.keyboard.press('Escape')

    const bare = await openPage(`${url}/s/bare/network`)
    const at = bare.page
    await at.waitForSelector('[data-channel=main]')
    await keys(at, 't e')
    writeFileSync(join(folder, 'no.json'), '{"nulletTemplate":3}')
    await at.setInputFiles('[data-template]', join(folder, 'no.json'))
    await at.locator('text=not a template of this version').waitFor()
    await at.waitForSelector('[data-kept="Dome network"]')
    const before = await at.locator('[data-kept]').count()
    await at.setInputFiles('[data-template]', file)
    await expect.poll(() => at.locator('[data-kept]').count()).toBe(before + 1)
    await at.locator('[data-kept="Dome network"] >> text=Lay over…').first().click()
    await expect.poll(() => at.locator('[data-match="Choir 1"]').innerText()).toMatch(/like “Choir 1”\s*Choir/)
    await expect.poll(() => at.locator('[data-match="Frame drum 4"]').innerText()).toMatch(/Stem Percussion/)
    await at.click('[data-do]')
    await saved(at)
    const s = await readSession(url, 'bare')
    expect(goes(s, named(s, 'Choir 2')!.id)).toEqual(['Choir'])
    expect(
      rows(s, 'rig')
        .map(r => r.name)
        .sort()
    ).toEqual(['Dome control room', 'Loft desk'])
    await at.click('[data-undo]')
    await saved(at)
    expect(rows(await readSession(url, 'bare'), 'rig')).toEqual([])
    expect(bare.complaints).toEqual([])
    await at.close()
  })

  it('32 submixes deep still fits the page', async () => {
    await makeSession(url, 'deep')
    const edit = (verb: string, args: object) => client(url).edit('deep', verb, args)
    for (let i = 31; i >= 0; i--)
      await edit('createBus', {
        id: `deep-${i}`,
        name: `Depth ${i + 1}`,
        role: 'submix',
        order: `b${String(i).padStart(2, '0')}`,
        to: i === 31 ? 'main' : `deep-${i + 1}`,
        feedId: `f-${i}`
      })
    const { page: at } = await openPage(`${url}/s/deep/network?sel=deep-12`)
    await at.locator('[data-channel=deep-12] .name', { hasText: 'Depth 13' }).waitFor()
    const box = (await at.locator('[data-channel=main]').boundingBox())!
    expect(box.x + box.width).toBeLessThanOrEqual(980)
    expect(await at.locator('.strip').count()).toBe(33)
    await at.close()
  })
})

it('nothing was complained about on the way', () => {
  expect(complaints).toEqual([])
})
