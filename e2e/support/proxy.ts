// A proxy between a server and its database that cuts, stops and half-writes, at a word or by seed.
import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import type { Dice } from '@nullet/core/session/generated'

export class Proxy {
  private readonly pairs = new Set<[Socket, Socket]>()
  private mode: 'through' | 'silent' | 'refusing' = 'through'
  private constructor(private readonly server: Server, private readonly to: URL) {}

  static async before(database: string): Promise<Proxy> {
    const server = createServer()
    const proxy = new Proxy(server, new URL(database))
    server.on('connection', socket => proxy.accept(socket))
    await new Promise<void>(done => { server.listen(0, '127.0.0.1', () => done()) })
    return proxy
  }

  /** The database as it is reached through here. */
  get url(): string {
    const url = new URL(this.to.href)
    url.port = String((this.server.address() as AddressInfo).port)
    return url.href
  }

  private accept(near: Socket): void {
    if (this.mode === 'refusing') { near.destroy(); return }
    const far = connect({ host: this.to.hostname, port: Number(this.to.port), noDelay: true }), pair: [Socket, Socket] = [near, far]
    this.pairs.add(pair)
    const over = () => { near.destroy(); far.destroy(); this.pairs.delete(pair) }
    near.on('data', d => { if (this.mode === 'through') far.write(d) })
    far.on('data', d => { if (this.mode === 'through') near.write(d) })
    for (const s of pair) s.on('error', over).on('close', over)
  }

  /** All connections break; new ones come through. */
  cut(): void { for (const [near, far] of [...this.pairs]) { near.destroy(); far.destroy() } }
  /** Some of them break, now. */
  cutSome(dice: Dice): void { for (const [near, far] of [...this.pairs]) if (dice.chance(0.5)) (dice.chance(0.5) ? near : far).destroy() }
  /** Nothing comes through, and nobody is told. */
  silence(): void { this.mode = 'silent' }
  refuse(): void { this.mode = 'refusing'; this.cut() }
  /** What was silent is lost: as after a cable that was pulled. */
  through(): void { if (this.mode !== 'through') { this.mode = 'through'; this.cut() } }
  close(): void { this.cut(); this.server.close() }
}
