// What is written beside a channel's name in a list: its role, and its way where another one has the same name.
import { pathToEars } from '@nullet/core/graph/path'
import type { Network } from '@nullet/core/graph/network'
import { rows } from '@nullet/core/session/session'
import { folded } from '~/words/find'

export function hintOf(network: Network, id: string): string {
  const { session } = network
  const channel = session.channel[id]
  if (!channel) return ''
  const name = folded(channel.name)
  const isShared = rows(session, 'channel').some(c => c.id !== id && folded(c.name) === name)
  const way = isShared ? pathToEars(network, id).slice(1) : []
  return [channel.role, ...way.map(at => session.channel[at]?.name ?? at)].join(' → ')
}
