import { chromium } from 'playwright-core'
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu'] })
const p = await b.newPage({ viewport: { width: 1280, height: 800 } })
await p.goto('http://127.0.0.1:4180/s/full-dome/network', { waitUntil: 'load' })
await p.waitForSelector('[data-channel]'); await p.waitForTimeout(+process.argv[2] || 3000)
const c = await p.context().newCDPSession(p)
await c.send('Profiler.enable'); await c.send('Profiler.setSamplingInterval', { interval: 200 })
const go = to => p.evaluate(async to => {
  const g = document.querySelector('#__nuxt').__vue_app__.config.globalProperties, s = g.$pinia._s.get('session')
  const ids = Object.values(s.session.channel).filter(c => c.kind === 'track').map(c => c.id)
  const feeds = ids.map((_, i) => 'g' + to + i)
  const t = performance.now(); s.apply('setMainFeed', { ids, to, feedIds: feeds }); const a = performance.now() - t
  await new Promise(d => requestAnimationFrame(() => { const m = new MessageChannel(); m.port1.onmessage = d; m.port2.postMessage(0) })); return [a, performance.now() - t]
}, to)
const ids = await p.evaluate(() => Object.values(document.querySelector('#__nuxt').__vue_app__.config.globalProperties.$pinia._s.get('session').session.channel).filter(c => c.role === 'submix' || (c.kind === 'bus' && !c.role)).map(c => c.id))
await c.send('Profiler.start')
const first = await go(ids[0])
const { profile } = await c.send('Profiler.stop')
console.log('first', first.map(x => x.toFixed(0)))
for (let i = 1; i < 5; i++) { await p.waitForTimeout(800); console.log('later', (await go(ids[i % ids.length])).map(x => x.toFixed(0))) }
const self = new Map(), byId = new Map(profile.nodes.map(n => [n.id, n])), parent = new Map(); profile.nodes.forEach(n => (n.children ?? []).forEach(k => parent.set(k, n.id)))
const total = new Map()
profile.samples.forEach((s, i) => { const dt = profile.timeDeltas[i] / 1000; const n = byId.get(s); const k = n.callFrame.functionName + ':' + n.callFrame.lineNumber + ':' + n.callFrame.columnNumber + ' ' + n.callFrame.url.split('/').pop(); self.set(k, (self.get(k) ?? 0) + dt); const seen = new Set(); for (let q = s; q !== undefined; q = parent.get(q)) { const m = byId.get(q), kk = m.callFrame.functionName + ':' + m.callFrame.lineNumber + ':' + m.callFrame.columnNumber + ' ' + m.callFrame.url.split('/').pop(); if (!seen.has(kk)) { seen.add(kk); total.set(kk, (total.get(kk) ?? 0) + dt) } } })
console.log('SELF'); [...self].sort((a, b) => b[1] - a[1]).slice(0, 15).forEach(([k, v]) => console.log(v.toFixed(1), k))
console.log('TOTAL'); [...total].sort((a, b) => b[1] - a[1]).slice(0, 45).forEach(([k, v]) => console.log(v.toFixed(1), k))
await b.close()
