// What a track hears: its clips, what it was printed from, or its input feeds.
import type { Channel, Feed, SourcedPrint } from '../session/rows'
import type { Network } from './network'

export interface Listening {
  /** Is there anything of its own: clips or notes? */
  hasClips: boolean
  clips: boolean
  /** The print whose source it could hear, and whether it does. */
  print: SourcedPrint | null
  hearsPrint: boolean
  hearsInputs: boolean
}

/** @param inputs input feeds of the track that carry something */
export function listening(network: Network, channel: Channel, inputs: readonly Feed[]): Listening {
  const printed = network.printOn.get(channel.id)
  const hasClips = network.clips.has(channel.id) || network.phrases.has(channel.id)
  const hearsFeed = channel.listen === 'feed' || (channel.listen === 'follow' && (channel.ready || !hasClips))
  const source = printed && network.session.channel[printed.source]
  const print = printed && source && !source.parked ? printed : null
  const hearsPrint = print !== null && hearsFeed
  // With nothing else to listen to, a track plays its clips whatever it is set to.
  const alone = !hearsPrint && !inputs.length
  return {
    hasClips,
    print,
    hearsPrint,
    hearsInputs: channel.ready || hearsFeed,
    clips: alone || (hasClips && !hearsFeed && !(inputs.length > 0 && channel.ready))
  }
}
