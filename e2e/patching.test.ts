// A room as it is patched: normals and what opens them, what the interface sends by itself, outputs as channels, a
// summing unit whose channels are made even, presets that are compared, a switch that is asked back, a player.
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { rows } from '@nullet/core/session/session'
import { connectStore, type Sql } from '../server/store/connect'
import { loadDemo } from '../demo/load'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, choose, keys, pick, readSession, saved } from './support/hands'

const { url, database } = inject('stage')
let page: Page, complaints: string[], sql: Sql
const session = () => readSession(url, 'patched')

beforeAll(async () => {
  sql = connectStore(database, 4)
  await loadDemo(sql, 4, 'patched')
  ;({ page, complaints } = await openPage(`${url}/s/patched/rig`))
  await page.waitForSelector('.rigview')
})
afterAll(async () => {
  await closeBrowser()
  await sql?.end()
})
beforeEach(async () => {
  for (let i = 0; i < 8; i++) await page.keyboard.press('Escape')
})
async function face(name: 'drawing' | 'outputs' | 'patch bay'): Promise<void> {
  if (!page.url().endsWith('/rig')) await keys(page, 'v r')
  await page.waitForSelector('.rigview')
  await page.locator('.el-radio-button', { hasText: name }).click()
}
/** A unit’s panel in the drawing. */
async function openUnit(id: string): Promise<void> {
  await face('drawing')
  if (!(await page.locator(`[data-unit=${id}].open`).count())) await page.locator(`[data-unit=${id}] .unithead`).click()
  await page.waitForSelector('section.unit')
}

describe('a patch bay', () => {
  const normal = (s: Awaited<ReturnType<typeof session>>) =>
    rows(s, 'cable')
      .filter(c => c.normalled === 'full' && c.toPort !== null)
      .sort((a, b) => (a.fromPort! < b.fromPort! ? -1 : 1))
  it('normals a row of jacks to another, and a plug opens one of them until it is pulled', async () => {
    await face('patch bay')
    await choose(page, 'first jack that is left', 'Loft out 1')
    await choose(page, 'first jack that it ends in', 'Loft in 1')
    await page.getByLabel('normals in a row').first().click()
    await page.keyboard.type('2')
    await page.keyboard.press('Enter')
    await choose(page, 'half or full', 'full')
    await page.click('[data-add-normal]')
    await saved(page)
    expect(normal(await session()).map(c => [c.fromPort, c.toPort])).toEqual([
      ['loft-io-out-1', 'loft-io-in-1'],
      ['loft-io-out-2', 'loft-io-in-2']
    ])
    const [first] = normal(await session())
    const row = page.locator(`[data-normal="${first!.id}"]`)
    expect(await row.innerText()).toContain('through')
    await apply(page, 'addCable', {
      id: 'plug',
      rig: 'loft',
      from: { port: 'loft-io-out-6' },
      to: { port: 'loft-io-in-1' }
    })
    await expect.poll(() => row.innerText()).toContain('opened by Loft out 6 → Loft in 1')
    await row.getByRole('button', { name: 'pull that plug' }).click()
    await saved(page)
    await expect.poll(() => row.innerText()).toContain('through')
    expect((await session()).cable.plug).toBeUndefined()
    await page.keyboard.press('Control+z')
    await expect.poll(() => row.innerText()).toContain('opened by')
    await page.keyboard.press('Control+Shift+z')
    await saved(page)
  })

  it('an interface’s own route is listed, checked where it adds to what is sent, and has to go', async () => {
    await face('patch bay')
    await choose(page, 'port it is taken from', 'Loft in 5')
    await choose(page, 'port it is added to', 'Loft out 5')
    await page.click('[data-add-route]')
    await expect.poll(() => page.locator('[data-route]').innerText()).toContain('it would howl, and carries nothing')
    await page
      .locator('[data-route]')
      .getByRole('button', { name: /^remove/ })
      .click()
    await choose(page, 'port it is taken from', 'Loft in 1')
    await choose(page, 'port it is added to', 'Loft out 8')
    await page.click('[data-add-route]')
    await saved(page)
    expect(await page.locator('[data-route]').innerText()).toContain('through')
    await apply(page, 'addPortFeed', {
      feedId: 'to-8',
      channel: 'main',
      ports: ['loft-io-out-7', 'loft-io-out-8'],
      direction: 'out'
    })
    await page.locator('[data-checks]').click()
    await expect
      .poll(() => page.getByRole('dialog', { name: 'Checks' }).innerText())
      .toContain('sends Loft in 1 → Loft out 8 by itself')
    await page.getByRole('button', { name: 'Remove that route' }).click()
    await saved(page)
    expect(rows(await session(), 'cable').filter(c => c.inside)).toEqual([])
  })
})

describe('outputs', () => {
  it('a pair becomes a channel with a level and slots, is a strip in the Map, and plain ports again', async () => {
    await face('outputs')
    const place = page.locator('[data-place="Loft out 7–8"]')
    expect(await place.innerText()).toContain('Main')
    await place.locator('[data-make-channel]').click()
    await saved(page)
    const made = rows(await session(), 'channel').find(c => c.role === 'output')!
    expect(made).toMatchObject({ name: 'Loft out 7–8', kind: 'bus', layout: ['L', 'R'] })
    const feeds = rows(await session(), 'feed')
    expect(feeds.find(f => f.kind === 'send' && f.to === made.id)).toMatchObject({ from: 'main', levelDb: 0 })
    expect(feeds.find(f => f.kind === 'port' && f.from === made.id)!.ports).toEqual(['loft-io-out-7', 'loft-io-out-8'])
    await page.getByLabel('level of Loft out 7–8').first().click()
    await page.keyboard.type('-6')
    await page.keyboard.press('Enter')
    await saved(page)
    expect((await session()).channel[made.id]!.levelDb).toBe(-6)
    await place.locator('[data-open-rail]').click()
    await page.waitForSelector('.rail')
    await page.keyboard.press('Escape')
    await keys(page, 'v m')
    await page.waitForSelector(`[data-channel="${made.id}"]`)
    await face('outputs')
    await place.locator('[data-unmake]').click()
    await saved(page)
    expect((await session()).channel[made.id]).toBeUndefined()
    expect(rows(await session(), 'feed').find(f => f.kind === 'port' && f.from === 'main')!.ports).toHaveLength(2)
  })

  it('channels of a summing unit are measured one by one, trimmed, and found even', async () => {
    const outs = [1, 2, 3, 4]
    await apply(page, 'several', {
      label: 'Four into the box',
      edits: [
        ...outs.map((n, i) => ({
          verb: 'addCable',
          args: { id: `box-in-${n}`, rig: 'loft', from: { port: `loft-io-out-${n + 2}` }, to: { unit: 'box', jack: i } }
        })),
        ...[0, 1].map(i => ({
          verb: 'addCable',
          args: { id: `box-out-${i}`, rig: 'loft', from: { unit: 'box', jack: i }, to: { port: `loft-io-in-${i + 3}` } }
        })),
        { verb: 'setUnit', args: { id: 'box', fields: { settings: { unevenDb: 1 } } } },
        {
          verb: 'setLoop',
          args: {
            id: 'four',
            rig: 'loft',
            fields: {
              name: 'Four',
              order: 'a0',
              outPorts: outs.map(n => `loft-io-out-${n + 2}`),
              inPorts: ['loft-io-in-3', 'loft-io-in-4']
            }
          }
        }
      ]
    })
    const loop = page.locator('[data-loop=four]')
    await loop.locator('[data-ping]').click()
    await loop.locator('[data-match]').click()
    await saved(page)
    const after = await session()
    const trims = outs.map(n => after.port[`loft-io-out-${n + 2}`]!.trimDb)
    expect(trims.some(t => Math.abs(t) > 0.05)).toBe(true)
    expect(Math.abs(trims.reduce((a, b) => a + b))).toBeLessThan(0.05)
    await loop.locator('[data-ping]').click()
    await expect.poll(() => loop.locator('[data-matching]').innerText()).toContain('Its channels are even')
  })
})

describe('a unit', () => {
  it('keeps its settings under names, and compares them at equal loudness', async () => {
    await apply(page, 'several', {
      label: 'The kora through the amplifier',
      edits: [
        {
          verb: 'setLoop',
          args: {
            id: 'amp',
            rig: 'loft',
            fields: { name: 'Amp', order: 'b0', outPorts: ['loft-io-out-5'], inPorts: ['loft-io-in-5'] }
          }
        },
        ...[3, 4].map(n => ({ verb: 'removeCable', args: { id: `box-in-${n}` } })),
        {
          verb: 'addCable',
          args: { id: 'to-amp', rig: 'loft', from: { port: 'loft-io-out-5' }, to: { unit: 'tube', jack: 0 } }
        },
        { verb: 'addSlot', args: { id: 'amp-slot', channel: 'kora', processor: 'loop', loop: 'amp', order: 'zz' } }
      ]
    })
    await openUnit('tube')
    const panel = page.locator('section.unit')
    await panel.locator('[data-keep-preset]').click()
    await answer(page, 'As it was')
    await apply(page, 'setUnit', { id: 'tube', fields: { settings: { driveDb: 30 } } })
    await panel.locator('[data-keep-preset]').click()
    await answer(page, 'Hot')
    await saved(page)
    expect((await session()).unit.tube!.presets.map(p => p.name)).toEqual(['As it was', 'Hot'])
    await panel.locator('[data-compare-presets]').click()
    await page.waitForSelector('[data-side=one]')
    expect(await panel.locator('[data-levels]').innerText()).toContain('LUFS, matched to the quietest')
    await panel.getByRole('button', { name: 'As it was', exact: true }).last().click()
    await panel.locator('[data-end-compare]').click()
    await saved(page)
    expect((await session()).unit.tube!.settings.driveDb).not.toBe(30)
    await page.keyboard.press('Control+z')
    await expect.poll(async () => (await session()).unit.tube!.settings.driveDb).toBe(30)
  })

  it('a switch that a re-amp turned is asked back, also by a page that opens later', async () => {
    await apply(page, 'several', {
      label: 'A processor at the DI out',
      edits: [
        {
          verb: 'setUnit',
          args: {
            id: 'model',
            rig: 'loft',
            fields: { name: 'Modeller', model: 'modelling-processor', order: 'zz', settings: { input: 'digital' } }
          }
        },
        {
          verb: 'addCable',
          args: { id: 'm-in', rig: 'loft', from: { port: 'loft-io-out-6' }, to: { unit: 'model', jack: 0 } }
        },
        {
          verb: 'addCable',
          args: { id: 'm-out', rig: 'loft', from: { unit: 'model', jack: 0 }, to: { port: 'loft-io-in-6' } }
        }
      ]
    })
    await keys(page, 'v m')
    await pick(page, 'kalimba')
    await keys(page, 'r a')
    await page.waitForSelector('[data-sheet]')
    await page.locator('[data-way="Modeller"] input').check()
    await choose(page, 'reference', 'Kora amp reference')
    await page.getByRole('button', { name: 'Re-amp it' }).click()
    await saved(page)
    const made = rows(await session(), 'channel').find(c => c.reference === 'kora-reference')!
    expect(made).toMatchObject({ kind: 'track', listen: 'feed' })
    expect((await session()).unit.model).toMatchObject({
      settings: { input: 'instrument' },
      putBack: { input: 'digital' }
    })
    await page.reload()
    await page.waitForSelector('[data-channel=kora]')
    await pick(page, made.id)
    expect(await page.locator('[data-compare-sides]').count()).toBe(1)
    await openUnit('model')
    await expect
      .poll(() => page.locator('[data-put-back]').innerText())
      .toContain('Input was turned for a re-amp; before it was digital')
    await page.getByRole('button', { name: 'put it back' }).click()
    await saved(page)
    expect((await session()).unit.model).toMatchObject({ settings: { input: 'digital' }, putBack: {} })
    expect(await page.locator('[data-put-back]').count()).toBe(0)
  })

  it('a player is given what it plays', async () => {
    await openUnit('performer')
    await choose(page, 'what Kalimba player plays', 'Kora DI')
    await saved(page)
    const { unit, medium } = await session()
    expect(medium[unit.performer!.plays!]!.name).toBe('Kora DI')
    expect(await page.locator('[data-unit=performer] .power').innerText()).toBe('Kora DI')
  })
})

describe('a rig of one’s own', () => {
  it('has two interfaces at once, the second with a clock of its own', async () => {
    await face('drawing')
    await page.locator('.rigview [data-more]').click()
    await page.getByRole('menuitem', { name: 'new rig…', exact: true }).click()
    await page.waitForSelector('[data-sheet]')
    await page.getByLabel('name of the rig', { exact: true }).fill('Barn')
    await page.getByText('two interfaces at once').click()
    await page.getByLabel('name of the second interface').fill('Stage box')
    await choose(page, 'clock of the second interface', 'runs free')
    await page.getByLabel('drift of the second interface in ppm').first().click()
    await page.keyboard.type('25')
    await page.keyboard.press('Enter')
    await page.locator('[data-sheet] [data-do]').click()
    await saved(page)
    const made = await session()
    const rig = rows(made, 'rig').find(r => r.name === 'Barn')!
    const devices = rows(made, 'interface').filter(i => i.rig === rig.id)
    expect(devices.map(d => [d.name, d.clock, d.driftPpm]).sort()).toEqual([
      ['Eight by eight', 'locked', 0],
      ['Stage box', 'free', 25]
    ])
    expect(complaints).toEqual([])
  })
})
