import { layoutName } from '../session/layouts'
import { lostLegs } from '../session/lostLegs'
import { rowOf, rows } from '../session/session'
import type { Check } from './check'

/** A feed into a narrower layout in which some leg has no place. */
export const droppedLegs: Check = {
  id: 'droppedLegs',
  find: session =>
    rows(session, 'feed')
      .filter(f => f.kind === 'main' || f.kind === 'send')
      .flatMap(f => {
        const from = rowOf(session, 'channel', f.from),
          to = rowOf(session, 'channel', f.to)
        const lost = lostLegs(from.layout, to.layout)
        return !lost.length
          ? []
          : [
              {
                sentence: `“${from.name}” (${layoutName(from.layout)}) loses ${lost.join(', ')} in “${to.name}” (${layoutName(to.layout)}).`,
                about: [from.id, to.id],
                consequence: 'What is on those legs is not heard from there on.',
                fixes: [{ label: 'Remove this feed', edit: { verb: 'removeFeeds', args: { ids: [f.id] } } }]
              }
            ]
      })
}
