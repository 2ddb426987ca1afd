// A small session that branches, for tests of the Map: three tracks through a submix and a stem, one straight to the
// main, a return.
import { Sketch } from './sketch'

export function branching(): Sketch {
  const k = new Sketch()
  k.bus('main', { role: 'main' })
  k.bus('stem', { role: 'stem' })
  k.bus('drums')
  k.bus('hall', { role: 'return' })
  k.main('stem', 'main')
  k.main('drums', 'stem')
  k.main('hall', 'main')
  for (const id of ['a', 'b', 'c']) {
    k.medium(`m${id}`, 1, 100)
    k.track(id, `m${id}`)
    k.main(id, 'drums')
  }
  k.medium('mv', 1, 100)
  k.track('voice', 'mv')
  k.main('voice', 'main')
  k.send('a', 'hall', -12)
  k.session.session.session.heardChannel = 'main'
  return k
}
