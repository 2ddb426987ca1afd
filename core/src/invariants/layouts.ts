// A layout names every speaker once; legs that are named are there.
import { dictionary } from '../foundation/dictionary'
import type { Row } from '../session/rows'
import { rows, type Session } from '../session/session'
import { capital, rowWords } from './words'
import { defineRule, type Breach } from './rule'

function fault(session: Session, channel: Row<'channel'>): Breach | null {
  const say = (message: string): Breach => ({
    kind: 'layout',
    about: [channel.id],
    message: `${capital(rowWords(session, 'channel', channel))} ${message}`
  })
  const twice = channel.layout.find((label, i) => channel.layout.indexOf(label) < i)
  if (twice) return say(`names the speaker ${twice} twice in its layout ${channel.layout.join(' ')}`)
  const beyond = [...channel.flippedLegs, ...channel.mutedLegs].find(leg => leg >= channel.layout.length)
  return beyond === undefined ? null : say(`has no leg ${beyond + 1}: its layout is ${channel.layout.join(' ')}`)
}

export const layouts = defineRule({
  says: 'a layout names every speaker once, and legs that are named are there',
  depends: { channel: ['layout', 'flippedLegs', 'mutedLegs'] },
  *find({ session }) {
    for (const channel of rows(session, 'channel')) {
      const breach = fault(session, channel)
      if (breach) yield breach
    }
  },
  mend(session) {
    const notes: string[] = []
    for (const channel of rows(session, 'channel')) {
      const breach = fault(session, channel)
      if (!breach) continue
      const used = dictionary<true>()
      const layout = channel.layout.map(label => {
        let name = label
        for (let i = 2; used[name]; i++) name = `${label.slice(0, 6)}${i}`
        used[name] = true
        return name
      })
      const there = (list: number[]) => list.filter(leg => leg < layout.length)
      session.channel[channel.id] = {
        ...channel,
        layout,
        flippedLegs: there(channel.flippedLegs),
        mutedLegs: there(channel.mutedLegs)
      }
      notes.push(`${breach.message}; it is ${layout.join(' ')} now`)
    }
    return notes
  }
})
