// Starting and stopping: one keeper a folder, what dies comes back and it is said, no one else's process is ended, as
// root and not, also after an install or a first start that was broken off.
import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { afterAll, describe, expect, it } from 'vitest'
import { closeBrowser, openPage } from './support/browser'
import { makeSession } from './support/hands'
import { freePort, root, stopProcess } from './support/stage'

/** Only root may be somebody else, and only where the checkout lies open to others. */
const canBeNobody =
  process.getuid!() === 0 &&
  spawnSync(
    'runuser',
    ['-u', 'nobody', '--', process.execPath, '-e', `require('fs').readFileSync('tools/database.mjs')`],
    { cwd: root }
  ).status === 0

describe('start and stop', () => {
  const state = mkdtempSync('/var/tmp/nullet-keeper-')
  const env = { ...process.env, NULLET_STATE: state }
  const node = (...args: string[]) => spawnSync(process.execPath, args, { cwd: root, env, encoding: 'utf8' })
  const status = () => {
    const out = node('tools/keeper.mjs', 'status').stdout
    return JSON.parse(out || '{}') as { address?: string; states?: Record<string, string>; port?: number }
  }
  const keepers: ChildProcess[] = []
  // Whatever a test leaves behind ends with it.
  afterAll(() => {
    keepers.forEach(k => k.kill('SIGKILL'))
    node('tools/database.mjs', 'remove')
    rmSync(state, { recursive: true, force: true })
  })
  const pids = (what: string) =>
    spawnSync('pgrep', ['-f', what], { encoding: 'utf8' }).stdout.split('\n').filter(Boolean).map(Number)

  it('two at once leave one keeper; what is killed comes back, the database too; a killed keeper leaves nothing; stop ends only its own', async () => {
    node('tools/database.mjs', 'start')
    node('build/migrate.mjs')
    const port = await freePort()
    const start = () =>
      spawn(process.execPath, ['tools/serve.mjs'], {
        cwd: root,
        env: { ...env, NULLET_PORT: String(port), NULLET_STAMP: 'x' },
        stdio: 'ignore'
      })
    keepers.push(start(), start())
    const healthy = () =>
      expect
        .poll(
          () =>
            fetch(`http://127.0.0.1:${port}/api/health`).then(
              r => r.status,
              () => 0
            ),
          { timeout: 40_000, interval: 200 }
        )
        .toBe(200)
    await healthy()
    await expect.poll(() => keepers.filter(k => k.exitCode === null).length).toBe(1)
    const ours = () =>
      pids('.output/server/index.mjs').filter(pid =>
        spawnSync('cat', [`/proc/${pid}/environ`], { encoding: 'utf8' }).stdout.includes(`NULLET_STATE=${state}`)
      )
    expect(ours()).toHaveLength(1)
    expect(status()).toMatchObject({ address: `http://127.0.0.1:${port}/` })

    await makeSession(`http://127.0.0.1:${port}`, 'kept')
    const { page } = await openPage(`http://127.0.0.1:${port}/s/kept/network`)
    await page.locator('[data-state]', { hasText: 'saved' }).waitFor()

    const [first] = ours()
    process.kill(first!, 'SIGKILL')
    await expect.poll(() => ours().filter(p => p !== first).length, { timeout: 20_000 }).toBe(1)
    await healthy()
    await page.getByText('The server ended (SIGKILL) and was started again. What was stored is there.').waitFor()

    const folder = readFileSync(join(state, 'cluster-folder'), 'utf8').trim()
    process.kill(Number(readFileSync(join(folder, 'postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL')
    await expect
      .poll(
        () =>
          fetch(`http://127.0.0.1:${port}/api/health`).then(
            r => r.status,
            () => 0
          ),
        { timeout: 20_000 }
      )
      .not.toBe(200)
    await healthy()
    await page.getByText('The database did not answer and was started again. What was stored is there.').waitFor()
    await closeBrowser()
    expect(node('tools/doctor.mjs').stdout).toMatch(
      /the server ended \(SIGKILL\) and was started again\n.*the database did not answer and was started again/
    )

    const keeper = keepers.find(k => k.exitCode === null)!
    await stopProcess(keeper, 'SIGKILL')
    await expect.poll(() => ours().length, { timeout: 20_000 }).toBe(0)
    expect(status()).toEqual({})

    const again = start()
    keepers.push(again)
    await healthy()
    expect(node('tools/keeper.mjs', 'stop').status).toBe(0)
    await expect.poll(() => again.exitCode).toBe(0)
    expect(ours()).toEqual([])
  }, 180_000)

  it('a file of a process id that is somebody else’s by now ends nobody', async () => {
    node('tools/database.mjs', 'stop')
    const bystander = spawn('sleep', ['60'], { stdio: 'ignore' })
    const folder = readFileSync(join(state, 'cluster-folder'), 'utf8').trim()
    writeFileSync(join(folder, 'postmaster.pid'), `${bystander.pid}\n${folder}\n`)
    writeFileSync(join(state, 'serve.pid'), String(bystander.pid))
    spawnSync('bash', ['./nullet', 'stop'], { cwd: root, env })
    expect(bystander.exitCode).toBeNull()
    bystander.kill()
    expect(node('tools/database.mjs', 'start').status).toBe(0)
    node('tools/database.mjs', 'remove')
  })

  it('a port that is none and a folder that cannot be written to are said in a sentence', async () => {
    const bad = spawnSync('bash', ['./nullet', 'start'], {
      cwd: root,
      env: { ...env, NULLET_PORT: 'loud' },
      encoding: 'utf8'
    })
    expect([bad.status, bad.stderr]).toEqual([1, expect.stringMatching(/NULLET_PORT is “loud”; a port is a number/)])
    const taken = createServer().listen(0, '127.0.0.1')
    taken.close()
    const nowhere = spawnSync(process.execPath, ['tools/keeper.mjs', 'status'], {
      cwd: root,
      env: { ...process.env, NULLET_STATE: '/etc/passwd/nowhere' },
      encoding: 'utf8'
    })
    expect([nowhere.status, nowhere.stderr]).toEqual([
      1,
      expect.stringMatching(/^nullet: \/etc\/passwd\/nowhere cannot be made/)
    ])
  })

  it('a first start that was broken off in the middle is begun anew', () => {
    expect(node('tools/database.mjs', 'start').status).toBe(0)
    const folder = readFileSync(join(state, 'cluster-folder'), 'utf8').trim()
    node('tools/database.mjs', 'stop')
    // As an initialisation leaves it that was killed: files, but no word of them.
    for (const name of ['cluster-folder', 'database-password', 'application-password', 'database-port'])
      rmSync(join(state, name))
    rmSync(join(folder, 'PG_VERSION'))
    writeFileSync(join(state, 'cluster-folder.new'), '/nowhere')
    expect(node('tools/database.mjs', 'start')).toMatchObject({ status: 0, stderr: '' })
    expect(node('build/migrate.mjs').stdout).toMatch(/007-rules/)
    node('tools/database.mjs', 'remove')
  })

  const asNobody = (command: string, ...args: string[]) =>
    spawnSync('runuser', ['-u', 'nobody', '--', command, ...args], {
      cwd: root,
      env: { ...process.env, NULLET_STATE: nobodys },
      encoding: 'utf8'
    })
  const nobodys = mkdtempSync('/var/tmp/nullet-nobody-')
  afterAll(() => rmSync(nobodys, { recursive: true, force: true }))

  it.runIf(canBeNobody)('somebody who is not root has a database of his own, and is told what is missing', () => {
    spawnSync('chown', ['nobody', nobodys])
    expect(asNobody(process.execPath, 'tools/database.mjs', 'start')).toMatchObject({ status: 0, stderr: '' })
    expect(asNobody(process.execPath, 'build/migrate.mjs').stdout).toMatch(/007-rules/)
    expect(asNobody(process.execPath, 'tools/database.mjs', 'remove').status).toBe(0)
    // A machine on which no package is there.
    const shims = mkdtempSync('/var/tmp/nullet-shims-')
    writeFileSync(join(shims, 'dpkg-query'), '#!/bin/sh\nexit 1\n')
    chmodSync(join(shims, 'dpkg-query'), 0o755)
    chmodSync(shims, 0o755)
    const missing = asNobody('env', `PATH=${shims}:${process.env.PATH}`, 'bash', './nullet', 'start')
    rmSync(shims, { recursive: true })
    expect([missing.status, missing.stderr]).toEqual([
      1,
      expect.stringMatching(
        /^nullet: postgresql-15 missing \(the database\)\. As root: apt-get install postgresql-15\n$/
      )
    ])
  })

  it.runIf(canBeNobody)('a folder that is somebody else’s is said', () => {
    const theirs = spawnSync('runuser', ['-u', 'nobody', '--', 'bash', './nullet', 'start'], {
      cwd: root,
      env: { ...process.env, NULLET_STATE: '/root/nowhere' },
      encoding: 'utf8'
    })
    expect([theirs.status, theirs.stderr]).toEqual([
      1,
      expect.stringMatching(
        /\/root\/nowhere cannot be written to\. Set NULLET_STATE to a folder of your own, or give this one to nobody\./
      )
    ])
  })
})
