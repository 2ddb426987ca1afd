// How and where what is heard is heard: folds of two loudspeakers, the device it comes out of.
import { defineStore } from 'pinia'
import { HEARD_AS, type HeardAs } from '@nullet/core/session/rows'
import { settings } from '@nullet/core/session/session'
import { useAsk } from './ask'
import { useNotices } from './notices'
import { useSession } from './session'
import { useTransport } from './transport'

const WORDS: Record<HeardAs, string> = {
  stereo: 'left and right as they are',
  mono: 'both play the sum',
  left: 'both play left',
  right: 'both play right',
  swapped: 'left and right exchanged',
  side: 'both play the difference'
}

export const useListening = defineStore('listening', () => {
  const store = useSession(),
    ask = useAsk(),
    notices = useNotices(),
    transport = useTransport()

  async function askAs(): Promise<void> {
    const now = settings(store.session!).heardAs
    const heardAs = await ask.ask({
      title: 'Hear it…',
      kind: 'choice',
      choices: HEARD_AS.map(value => ({
        value,
        label: value,
        hint: value === now ? `${WORDS[value]}, as now` : WORDS[value]
      })),
      note: 'Of listening alone: prints stay as they are.'
    })
    if (heardAs) store.apply('setSession', { heardAs })
  }
  const toggleMono = () =>
    store.apply('setSession', { heardAs: settings(store.session!).heardAs === 'mono' ? 'stereo' : 'mono' })

  /** Outputs that the browser offers. Their names come once it may know them. */
  async function askDevice(): Promise<void> {
    if (!transport.engine().canChooseDevice)
      return notices.tell('This browser does not let a page choose the output: it takes the system’s.')
    try {
      let devices = (await navigator.mediaDevices.enumerateDevices()).filter(d => d.kind === 'audiooutput')
      if (devices.length && devices.every(d => !d.label)) {
        // Names of outputs are told only to pages that were trusted with a microphone once.
        const trusted = await navigator.mediaDevices.getUserMedia({ audio: true }).catch(() => null)
        trusted?.getTracks().forEach(t => t.stop())
        devices = (await navigator.mediaDevices.enumerateDevices()).filter(d => d.kind === 'audiooutput')
      }
      const now = transport.engine().device
      const id = await ask.ask({
        title: 'Output device',
        kind: 'choice',
        choices: [
          { value: '', label: 'as the system has it', hint: now === '' ? 'as now' : '' },
          ...devices
            .filter(d => d.deviceId && d.deviceId !== 'default')
            .map((d, i) => ({
              value: d.deviceId,
              label: d.label || `output ${i + 1}`,
              hint: d.deviceId === now ? 'as now' : ''
            }))
        ]
      })
      if (id !== null) await transport.engine().setDevice(id)
    } catch (error) {
      notices.wrong(new Error(`The output was not changed: ${(error as Error).message}`))
    }
  }

  return { askAs, toggleMono, askDevice }
})
