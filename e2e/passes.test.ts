// Passes through one unit: two tries of a DI and another track, planned, set by the run card, run one by one over a
// reload, put back, and proven.
import { readFile } from 'node:fs/promises'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { Page } from 'playwright-core'
import { isHeardPrint, printOn, rows, takesOf, type Session } from '@nullet/core/session/session'
import { whiteNoise } from '@nullet/core/testing/sound'
import { client, wav } from '../server/testing'
import { closeBrowser, openPage } from './support/browser'
import { answer, apply, choose, keys, makeSession, pick, readSession, saved } from './support/hands'

const { url } = inject('stage')
const id = `passes-${process.pid}`
const RATE = 44_100
let page: Page, complaints: string[]

const ROOM = [
  { table: 'rig', row: { id: 'attic', name: 'Attic' } },
  { table: 'interface', row: { id: 'box', rig: 'attic', name: 'Box' } },
  { table: 'port', row: { id: 'out', interface: 'box', name: 'Out 1', direction: 'out' } },
  { table: 'port', row: { id: 'in', interface: 'box', name: 'In 1', direction: 'in' } },
  { table: 'unit', row: { id: 'amp', rig: 'attic', name: 'Bellows amp', model: 'tube-amplifier', powered: false } },
  { table: 'cable', row: { id: 'c1', rig: 'attic', fromPort: 'out', toUnit: 'amp' } },
  { table: 'cable', row: { id: 'c2', rig: 'attic', fromUnit: 'amp', toPort: 'in' } }
]

beforeAll(async () => {
  await makeSession(url, id, RATE)
  ;({ page, complaints } = await openPage(`${url}/s/${id}/sources`))
  await page.waitForSelector('input[data-audio]', { state: 'attached' })
  await page.setInputFiles(
    'input[data-audio]',
    ['Lute DI', 'Zither'].map((name, n) => ({
      name: `${name}.wav`,
      mimeType: 'audio/wav',
      buffer: Buffer.from(wav([whiteNoise(RATE * 2, n + 1, 0.05)], 24, RATE))
    }))
  )
  await page.getByText('2 files became tracks').waitFor()
  await keys(page, 'Escape')
  await apply(page, 'addRows', { label: 'an attic', rows: ROOM })
  await apply(page, 'setSession', { rig: 'attic' })
  await saved(page)
})
afterAll(closeBrowser)

const session = () => readSession(url, id)
const named = (s: Session, name: string) => rows(s, 'channel').find(c => c.name === name)!
const line = (source: string, n = 0) => page.locator(`[data-wanted="${source}"]`).nth(n)
const pass = (n: number) => page.locator(`[data-pass="${n}"]`)
async function goOut(source: string, n = 0): Promise<void> {
  await line(source, n).locator('[data-way]').click()
  await choose(page, 'way of this print', 'Bellows amp, Out 1 → In 1')
}

describe('a unit that serves one print after the other', () => {
  it('makes as many passes as it has to, says why, and what has to be set', async () => {
    const s = await session()
    const [lute, zither] = [named(s, 'Lute DI').id, named(s, 'Zither').id]
    await page.click('text=Network')
    await pick(page, lute)
    await pick(page, zither, 'Control')
    await keys(page, 'p r')
    await page.waitForSelector(`[data-wanted="${zither}"]`)
    await goOut(zither)
    await line(zither).locator('[data-way]').click()
    await goOut(lute)
    await page.click('[data-try]')
    await line(lute).locator('[data-way]').click()
    await line(lute, 1).locator('[data-way]').click()
    const drive = page.locator('[data-unit=amp]').getByLabel('Drive')
    await drive.focus()
    await page.keyboard.type('30')
    await page.keyboard.press('Enter')
    await page.getByText('“Bellows amp” at Drive 30 dB').waitFor()
    expect(await page.locator('[data-pass]').count()).toBe(3)
    expect(await pass(1).innerText()).toContain('switch “Bellows amp” on')
    expect(await pass(2).innerText()).toContain('because “')
    expect(await pass(3).innerText()).toContain('“Bellows amp”: Drive 30 dB (is 14 dB)')
    expect(await page.locator('[data-put-back]').innerText()).toContain('Drive 14 dB (is 30 dB)')
    expect(await page.locator('.plan').innerText()).toContain('in each of 3 passes: there can be no fewer')
  })

  it('may be done in another order, as long as none waits for another', async () => {
    const zither = await pass(2).innerText()
    expect(zither).toContain('Zither, Bellows amp')
    await page.click('[data-next-pass="2"]')
    await expect.poll(() => pass(1).innerText()).toContain('Zither, Bellows amp')
    expect(await pass(1).innerText()).toContain('switch “Bellows amp” on')
    expect(await page.locator('[data-pass]').count()).toBe(3)
    await page.click('[data-next-pass="2"]')
    await expect.poll(() => pass(2).innerText()).toContain('Zither, Bellows amp')
    expect(await page.locator('.plan').innerText()).toMatch(
      /0:15\.\d with real units; 1\.1 MB|0:15\.\d with real units; 1 MB/
    )
  })

  it('is switched on by the card, runs one pass, and goes on after a reload where it was', async () => {
    await pass(1).getByText('switch “Bellows amp” on').click()
    await saved(page)
    expect((await session()).unit.amp!.powered).toBe(true)
    await pass(3).getByText('Drive 30 dB').click()
    await page.click('[data-run-pass="1"]')
    await page.waitForSelector('[data-print]')
    await page.reload()
    await page.waitForSelector('[data-run-card]')
    expect(await page.locator('[data-pass]').count()).toBe(2)
    expect(await pass(2).locator('input[type=checkbox]').isChecked()).toBe(true)
    await page.click('[data-run]')
    await expect.poll(async () => rows(await session(), 'print').length, { timeout: 60_000 }).toBe(3)
    const s = await session()
    const prints = rows(s, 'print')
    expect(prints.map(p => p.verified)).toEqual(['identical', 'identical', 'identical'])
    const lute = prints.filter(p => p.source === named(s, 'Lute DI').id)
    expect(new Set(lute.map(p => p.channel)).size).toBe(1)
    expect(takesOf(s, lute[0]!.channel)).toHaveLength(2)
    expect(lute.filter(p => isHeardPrint(s, p))).toHaveLength(1)
    expect(prints.every(p => (s.medium[s.clip[p.clip!]!.medium]!.peakDb ?? -Infinity) > -80)).toBe(true)
  })

  it('asks for what has to be put back, until it is', async () => {
    const back = page.locator('[data-put-back]')
    await back.getByText('Drive 14 dB (is 30 dB)').click()
    await back.waitFor({ state: 'detached' })
    await page.reload()
    await page.waitForSelector('[data-print]')
    expect(await page.locator('[data-run-card]').count()).toBe(0)
    const s = await session()
    const hot = rows(s, 'print').find(p => Object.keys(p.through?.settings ?? {}).length)!
    expect(await page.locator(`[data-print="${hot.id}"]`).innerText()).toContain('out through Bellows amp')
  })

  it('is proven again, and the proof is kept', async () => {
    const one = page.locator('[data-print]').first()
    await one.locator('[data-prove-print]').click()
    await one.getByText(/identical to the live path, 2/).waitFor()
    await saved(page)
    expect(rows(await session(), 'print').flatMap(p => p.proofs)).toMatchObject([{ of: 'live', leftDb: null }])
  })

  it('that went wrong shows where; those bars are run again, and the seams are proven', async () => {
    const s = await session()
    const print = rows(s, 'print').find(p => isHeardPrint(s, p) && p.source === named(s, 'Zither').id)!
    const whole = s.medium[s.clip[print.clip!]!.medium]!
    const file = Buffer.from(
      await (await fetch(`${url}/api/sessions/${id}/wav?medium=${whole.id}&depth=32f`)).arrayBuffer()
    )
    const data = file.indexOf('data') + 8
    file.fill(0, data + 4 * RATE, data + 4 * RATE * 1.5)
    await client(url).upload(id, 'torn', 'torn.wav', file)
    const torn = rows(await session(), 'medium').find(m => m.name.startsWith('torn'))!
    expect(torn.sha256).not.toBe(whole.sha256)
    await apply(page, 'mendPrint', {
      id: print.id,
      medium: { ...torn, id: 'as-torn' },
      note: 'the amp was off',
      faults: [{ kind: 'lost', from: RATE, frames: RATE / 2, what: '“Bellows amp” was switched off' }],
      residualDb: -20,
      verified: 'differs'
    })
    await saved(page)
    const one = page.locator(`[data-print="${print.id}"]`)
    expect(await one.locator('[data-faults]').innerText()).toMatch(
      /0:01\.0\s+“Bellows amp” was switched off for 0:00\.5/
    )
    await expect.poll(() => page.locator('[data-checks]').innerText()).toMatch(/[1-9]/)
    await one.locator('[data-run-again]').click()
    await one.locator('[data-faults]').waitFor({ state: 'detached' })
    expect(await one.innerText()).toContain('run again: 1.0 s – 1.5 s; the seams are identical')
    const now = await session()
    expect(now.medium[now.clip[print.clip!]!.medium]!.sha256).toBe(whole.sha256)
    await page.keyboard.press('Control+z')
    await one.locator('[data-faults]').waitFor()
    await one.locator('[data-keep-as-it-is]').click()
    await one.locator('[data-faults]').waitFor({ state: 'detached' })
    await saved(page)
    expect((await session()).print[print.id]!.faults).toEqual([])
  })

  it('goes to a receiver as it sounds, without the attic', async () => {
    await page.locator('.bar .el-dropdown').first().click()
    await page.getByRole('menuitem', { name: 'Package for a receiver…' }).click()
    await page.locator('[data-replaced]').waitFor()
    expect(await page.locator('[data-replaced]').innerText()).toContain('2 prints are heard in the place of')
    await page.getByText('Everything in it plays without this room.').waitFor()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save the package' }).click()
    ])
    expect(download.suggestedFilename()).toContain('for the receiver')
    const path = await download.path()
    const answer = await fetch(`${url}/api/packages?id=given-${process.pid}`, {
      method: 'POST',
      body: new Uint8Array(await readFile(path))
    })
    expect(answer.status).toBe(200)
    const given = await readSession(url, `given-${process.pid}`)
    expect(Object.keys(given.rig)).toEqual([])
    expect(rows(given, 'print')).toHaveLength(3)
  })

  it('leaves prints that can be hidden from the Map and from Crosspoints, and are found all the same', async () => {
    const s = await session()
    const zither = named(s, 'Zither').id,
      print = rows(s, 'print').find(p => p.source === zither)!.channel
    const strip = (id: string) => page.locator(`.map [data-channel="${id}"]`)
    await keys(page, 'v m')
    await page.keyboard.press('Escape')
    await strip(print).waitFor()
    await page.click('[data-hide-prints]')
    await strip(print).waitFor({ state: 'detached' })
    expect(await strip(zither).innerText()).toContain('1 print')
    await page.reload()
    await strip(zither).waitFor()
    expect(await strip(print).count()).toBe(0)
    await keys(page, 'v x')
    await page.getByText('Zither').first().waitFor()
    expect(await page.getByText(s.channel[print]!.name, { exact: true }).count()).toBe(0)
    await keys(page, 'v m')
    await strip(zither).waitFor()
    await keys(page, 'v i')
    await strip(print).waitFor()
    await keys(page, 'v p')
    await page.waitForSelector('[data-print]')
  })

  it('are heard beside their dry source by one balance', async () => {
    const s = await session()
    const print = rows(s, 'print').find(p => isHeardPrint(s, p) && p.source === named(s, 'Zither').id)!
    const one = page.locator(`[data-print="${print.id}"]`)
    await one.locator('[data-dry-beside]').click()
    await saved(page)
    const dry = named(await session(), 'Zither dry')
    expect(dry.levelDb).toBeCloseTo(s.channel[print.source!]!.levelDb! - 6.02, 2)
    await one.getByLabel('balance of').focus()
    await page.keyboard.type('100')
    await page.keyboard.press('Enter')
    await saved(page)
    const after = await session()
    expect(after.channel[dry.id]!.levelDb).toBeNull()
    expect(after.channel[print.channel]!.levelDb).toBeCloseTo(s.channel[print.channel]!.levelDb!, 2)
    expect(await one.innerText()).not.toContain('dry beside it')
    await page.keyboard.press('Escape')
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z')
    await saved(page)
    expect(rows(await session(), 'channel').map(c => c.name)).not.toContain('Zither dry')
  })

  it('of many in one: they are gathered, and the print takes their place', async () => {
    const s = await session()
    await keys(page, 'v m')
    await pick(page, named(s, 'Lute DI').id)
    await pick(page, named(s, 'Zither').id, 'Control')
    await keys(page, 'p x')
    await answer(page, 'Strings')
    await page.waitForSelector('[data-wanted]')
    expect(await page.locator('[data-wanted]').innerText()).toContain('Strings')
    const bus = named(await session(), 'Strings')
    await page.click('[data-run]')
    await expect
      .poll(async () => rows(await session(), 'print').some(p => p.source === bus.id), { timeout: 60_000 })
      .toBe(true)
    const print = rows(await session(), 'print').find(p => p.source === bus.id)!
    expect(print).toMatchObject({ tap: 'post', takesOver: true, verified: 'identical' })
    // What the server has done is a step here once it has arrived.
    await page.waitForSelector(`[data-print="${print.id}"]`)
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await saved(page)
    expect(rows(await session(), 'channel').map(c => c.name)).not.toContain('Strings')
  })

  it('say how much room they take, and what is not heard goes first, down to a budget', async () => {
    const before = await session()
    await page.click('[data-storage]')
    const sheet = page.locator('[data-sheet]')
    await sheet.getByText('left on the disk').waitFor()
    expect(await sheet.locator('[data-printed-bytes]').innerText()).toMatch(/^prints: \d\.\d MB|^prints: \d MB/)
    expect(await sheet.innerText()).toContain('take that is not heard')
    expect(await sheet.innerText()).toContain('nothing plays it')
    await sheet.locator('#print-budget').fill('0.001')
    await sheet.locator('#print-budget').press('Enter')
    const going = await sheet
      .locator('tr.going')
      .evaluateAll(all => all.map(e => (e as HTMLElement).dataset.audioHeld!))
    expect(going.length).toBeGreaterThan(0)
    await sheet.locator('[data-do]').click()
    await saved(page)
    const after = await session()
    for (const id of going) expect(after.medium[id]).toBeUndefined()
    for (const c of rows(before, 'channel')) expect(printOn(after, c.id)?.id).toBe(printOn(before, c.id)?.id)
    await page.keyboard.press('Escape')
    await page.locator('.notice').last().getByText('Undo').click()
    await saved(page)
    expect(await session()).toEqual(before)
    await page.evaluate(() => localStorage.removeItem('nullet print budget'))
  })

  it('makes prints stale when it is set otherwise, and the same way is printed again', async () => {
    await apply(page, 'setUnit', { id: 'amp', fields: { settings: { bassDb: -6 } } })
    await page.locator('[data-print-stale]').click()
    await page.waitForSelector('[data-wanted]')
    expect(await page.locator('.plan').innerText()).toContain('out through Bellows amp by itself')
    expect(complaints).toEqual([])
  })
})
