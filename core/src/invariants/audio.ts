// What is asked of audio: a clip plays legs that its audio has, an impulse response is there and short enough to be
// one. A package may be written by hand, and what its audio is is known once the files have been read: these rules are
// looked at then.
import { LONGEST_RESPONSE_S } from '../processors/convolution'
import { PROCESSORS } from '../processors/table'
import { RESPONSES } from '../processors/responses'
import { rowOf, settings } from '../session/session'
import { ruleOfRows, type Breach } from './rule'
import { slotWords } from './settings'

export const clipLegs = ruleOfRows({
  says: 'a clip plays legs that its audio has',
  table: 'clip',
  ofAudio: true,
  depends: { clip: ['legMap', 'medium'], medium: ['legs'] },
  fault(session, clip): Breach | null {
    const medium = session.medium[clip.medium],
      leg = medium && clip.legMap?.find(l => l >= medium.legs)
    if (leg === undefined) return null
    return {
      kind: 'layout',
      about: [clip.id],
      message: `The clip “${clip.name || clip.id}” plays leg ${leg + 1} of “${medium!.name}”, which has ${medium!.legs}`
    }
  },
  mend: (session, clip) => ({
    row: { ...clip, legMap: clip.legMap!.map(l => (l >= rowOf(session, 'medium', clip.medium).legs ? -1 : l)) },
    notes: [`The clip “${clip.name || clip.id}” played legs that its audio has not; nothing plays there now`]
  })
})

export const responses = ruleOfRows({
  says: 'an impulse response is there, and short enough to be one',
  table: 'slot',
  ofAudio: true,
  depends: { slot: ['processor', 'params'], medium: ['frames'] },
  fault(session, slot): Breach | null {
    const id = slot.params.response
    const takesOne = PROCESSORS[slot.processor]?.parameters.some(p => p.name === 'response' && p.medium)
    if (typeof id !== 'string' || RESPONSES[id] || !takesOne) return null
    const medium = session.medium[id],
      rate = settings(session).sampleRate
    const say = (kind: Breach['kind'], fault: string): Breach => ({
      kind,
      about: [slot.id, id],
      message: `${slotWords(session, slot)}: ${fault}`
    })
    if (!medium) return say('notFound', `there is no impulse response “${id}” in this session`)
    if (medium.frames >= 1 && medium.frames <= LONGEST_RESPONSE_S * rate) return null
    return say(
      'badArguments',
      `“${medium.name}” is ${(medium.frames / rate).toFixed(1)} s long; an impulse response has between one sample and ${LONGEST_RESPONSE_S} s`
    )
  },
  mend(session, slot) {
    const { response: _, ...params } = slot.params
    return {
      row: { ...slot, params },
      notes: [`${slotWords(session, slot)}: its impulse response was not there, and the first built-in one is used`]
    }
  }
})
