// A proxy between two ends of a line, a server and its database or a page and its server: it cuts, stops and
// half-writes, at a word or by seed.
import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import type { Dice } from '@nullet/core/testing/generated'

export class Proxy {
  private readonly pairs = new Set<[Socket, Socket]>()
  private mode: 'through' | 'silent' | 'refusing' | 'gone' = 'through'
  private bytesLeft = Infinity
  private wasCut = () => {}
  private port = 0
  private constructor(
    private readonly server: Server,
    private readonly to: URL
  ) {}

  static async before(address: string): Promise<Proxy> {
    const server = createServer()
    const proxy = new Proxy(server, new URL(address))
    server.on('connection', socket => proxy.accept(socket))
    await new Promise<void>(done => {
      server.listen(0, '127.0.0.1', () => done())
    })
    proxy.port = (server.address() as AddressInfo).port
    return proxy
  }

  /** What lies behind, as it is reached through here. */
  get url(): string {
    const url = new URL(this.to.href)
    url.port = String(this.port)
    return url.href
  }

  private accept(near: Socket): void {
    if (this.mode === 'refusing') {
      near.destroy()
      return
    }
    const far = connect({ host: this.to.hostname, port: Number(this.to.port), noDelay: true }),
      pair: [Socket, Socket] = [near, far]
    this.pairs.add(pair)
    const over = () => {
      near.destroy()
      far.destroy()
      this.pairs.delete(pair)
    }
    near.on('data', d => {
      if (this.mode !== 'through') return
      this.bytesLeft -= d.length
      if (this.bytesLeft <= 0) {
        far.write(d.subarray(0, d.length + this.bytesLeft))
        this.bytesLeft = Infinity
        over()
        this.wasCut()
        return
      }
      // No more is taken than goes on: what was sent is what has arrived.
      if (!far.write(d)) {
        near.pause()
        far.once('drain', () => near.resume())
      }
    })
    far.on('data', d => {
      if (this.mode === 'through') near.write(d)
    })
    for (const s of pair) s.on('error', over).on('close', over)
  }

  /** All connections break; new ones come through. */
  cut(): void {
    for (const [near, far] of [...this.pairs]) {
      near.destroy()
      far.destroy()
    }
  }
  /** Breaks the line that has sent so many more bytes from the near side. @returns resolves when it has */
  cutAfter(bytes: number): Promise<void> {
    this.bytesLeft = bytes
    return new Promise(done => {
      this.wasCut = done
    })
  }
  /** Some of them break, now. */
  cutSome(dice: Dice): void {
    for (const [near, far] of [...this.pairs]) if (dice.chance(0.5)) (dice.chance(0.5) ? near : far).destroy()
  }
  /** Nothing comes through, and nobody is told. */
  silence(): void {
    this.mode = 'silent'
  }
  refuse(): void {
    this.mode = 'refusing'
    this.cut()
  }
  /** Nobody listens where it was: the machine itself turns connections away. */
  leave(): void {
    this.mode = 'gone'
    this.cut()
    this.server.close()
  }
  /** What was silent is lost: as after a cable that was pulled. */
  async through(): Promise<void> {
    if (this.mode === 'through') return
    if (this.mode === 'gone')
      await new Promise<void>(done => {
        this.server.listen(this.port, '127.0.0.1', () => done())
      })
    this.mode = 'through'
    this.cut()
  }
  close(): void {
    this.cut()
    this.server.close()
  }
}
