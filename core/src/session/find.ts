// Rows by what people call them.
import { Refusal } from '../foundation/refusal'
import { rows, type Session } from './session'

/**
 * A channel by its id or name. @throws Refusal that lists the candidates when several fit, or the nearest when none
 * does
 */
export function channelNamed(session: Session, text: string) {
  const byIdentity = session.channel[text]
  if (byIdentity) return byIdentity
  const all = rows(session, 'channel')
  const found = all.filter(c => c.name === text)
  const loose = found.length ? found : all.filter(c => c.name.toLowerCase() === text.toLowerCase())
  if (loose.length === 1) return loose[0]
  if (loose.length)
    throw new Refusal(
      'ambiguous',
      `“${text}” is ${loose.length} channels: ${loose.map(c => c.id).join(', ')}. Say which by its id.`,
      loose.map(c => c.id)
    )
  throw new Refusal('notFound', `There is no channel “${text}”. There are: ${all.map(c => c.name).join(', ')}`)
}
