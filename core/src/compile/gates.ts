// Which feeds carry something in a render, and how much: what closes them at their own end, solo, and what is left out.
import { gainOf } from '../foundation/elementary'
import { feedClosed } from '../graph/closed'
import type { Network } from '../graph/network'
import { soloGate } from '../graph/solo'
import { isAudible } from '../graph/takeOver'
import type { Feed } from '../session/rows'
import type { CompileOptions } from './plan'

export class Gates {
  private readonly passesSolo: (feed: Feed) => boolean

  constructor(
    private readonly network: Network,
    private readonly options: CompileOptions
  ) {
    // Solo is a matter of listening: a print does not know of it.
    this.passesSolo = (options.live && soloGate(network)) || (() => true)
  }

  /** The gain of a feed, 0 where it is closed. */
  gain(feed: Feed): number {
    if (feedClosed(this.network, feed) || !this.passesSolo(feed) || this.options.without?.has(feed.from ?? '')) return 0
    if (this.isLeftOut(feed) && isAudible(feed)) return 0
    return gainOf(feed.levelDb)
  }

  private isLeftOut({ from }: Feed): boolean {
    const { only } = this.options
    return only !== undefined && from !== null && this.network.session.channel[from].kind === 'track' && !only.has(from)
  }

  /** Offline, what a closed gate would let through is not computed at all. */
  matters(feed: Feed): boolean {
    if (feed.from && this.network.session.channel[feed.from].parked) return false
    return this.options.live || this.gain(feed) !== 0
  }
}
