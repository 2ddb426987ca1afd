import { isPlaceholder } from '../processors/table'
import { rowOf, rows } from '../session/session'
import type { Check } from './check'

export const missingProcessor: Check = {
  id: 'missingProcessor',
  find: session =>
    rows(session, 'slot')
      .filter(s => isPlaceholder(s.processor))
      .map(s => ({
        sentence: `“${s.processor}” on “${rowOf(session, 'channel', s.channel).name}” is not here.`,
        about: [s.channel],
        consequence: 'Audio passes it untouched; its settings are kept.',
        fixes: []
      }))
}
