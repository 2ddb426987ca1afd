// Chromium, one page a test; what the page complains about is kept and looked at in the end.
import { chromium, type Browser, type Page } from 'playwright-core'

let browser: Browser | undefined

export const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--autoplay-policy=no-user-gesture-required'
]

export async function openBrowser(): Promise<Browser> {
  return (browser ??= await chromium.launch({
    executablePath: process.env.NULLET_CHROMIUM ?? '/usr/bin/chromium',
    ignoreDefaultArgs: ['--mute-audio'],
    args: ARGS
  }))
}

export const closeBrowser = async () => {
  await browser?.close()
  browser = undefined
}

export interface Told {
  page: Page
  complaints: string[]
}

export async function openPage(url: string): Promise<Told> {
  const page = await (await openBrowser()).newPage({ viewport: { width: 1280, height: 800 }, acceptDownloads: true })
  const complaints: string[] = []
  page.on('pageerror', e => complaints.push(e.message))
  // A refused request is no complaint of the page: tests that refuse look at what is shown.
  page.on('console', m => {
    if (m.type() === 'error' && !/Failed to load resource/.test(m.text())) complaints.push(m.text())
  })
  page.setDefaultTimeout(Number(process.env.NULLET_PATIENCE_MS ?? 20_000))
  await page.goto(url)
  return { page, complaints }
}
