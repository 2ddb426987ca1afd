import { chromium } from 'playwright-core'
const [,, url, out, w='1280', h='800', ...acts] = process.argv
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] })
const p = await b.newPage({ viewport: { width: +w, height: +h } })
p.on('console', m => m.type() === 'error' && console.log('console', m.text()))
await p.goto(url); await p.waitForTimeout(1500)
for (const a of acts) { if (a.startsWith('key:')) for (const k of a.slice(4).split(' ')) await p.keyboard.press(k); else if (a.startsWith('click:')) await p.click(a.slice(6)); else if (a.startsWith('eval:')) await p.evaluate(a.slice(5)); else if (a.startsWith('type:')) await p.keyboard.type(a.slice(5)); await p.waitForTimeout(700) }
await p.screenshot({ path: out }); console.log(p.url()); await b.close()
