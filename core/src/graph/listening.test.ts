// What a track hears, for every way it can be set, with and without clips, a print and inputs.
import { describe, expect, it } from 'vitest'
import type { InputFeed } from '../session/rows'
import { Sketch } from '../testing/sketch'
import { listening } from './listening'
import { Network } from './network'

interface Set {
  listen: 'print' | 'feed' | 'follow'
  ready?: boolean
  clips?: boolean
  notes?: boolean
  print?: boolean | 'parked'
  input?: boolean
}

/** What is heard of clips, print and inputs, by their first letters. */
function hears({ listen, ready = false, clips, notes, print, input }: Set): string {
  const k = new Sketch()
  k.medium('m', 1, 10)
  k.bus('source', { parked: print === 'parked' })
  k.track('t', clips ? 'm' : undefined, { listen, ready })
  if (notes) k.add('phrase', { id: 'p', channel: 't' })
  if (print) k.add('print', { id: 'row', channel: 't', source: 'source', tap: 'post' })
  const feed = { id: 'f', kind: 'input', to: 't', ports: [] } as unknown as InputFeed
  const found = listening(new Network(k.session), k.session.channel.t!, input ? [feed] : [])
  expect(found.hasClips).toBe(!!clips || !!notes)
  expect(found.print?.id).toBe(print === true ? 'row' : undefined)
  return `${found.clips ? 'c' : ''}${found.hearsPrint ? 'p' : ''}${found.hearsInputs ? 'i' : ''}`
}

describe('a track', () => {
  it.each<[Set, string]>([
    [{ listen: 'print', clips: true }, 'c'],
    [{ listen: 'print' }, 'c'],
    [{ listen: 'print', notes: true }, 'c'],
    [{ listen: 'print', clips: true, print: true }, 'c'],
    [{ listen: 'print', clips: true, input: true }, 'c'],
    [{ listen: 'print', input: true }, ''],
    [{ listen: 'print', clips: true, input: true, ready: true }, 'i'],
    [{ listen: 'print', clips: true, print: true, ready: true }, 'ci'],
    [{ listen: 'feed', clips: true }, 'ci'],
    [{ listen: 'feed', clips: true, print: true }, 'pi'],
    [{ listen: 'feed', clips: true, print: 'parked' }, 'ci'],
    [{ listen: 'feed', clips: true, input: true }, 'i'],
    [{ listen: 'follow', clips: true, print: true }, 'c'],
    [{ listen: 'follow', notes: true, print: true }, 'c'],
    [{ listen: 'follow', clips: true, print: true, ready: true }, 'pi'],
    [{ listen: 'follow', print: true }, 'pi'],
    [{ listen: 'follow', input: true }, 'i'],
    [{ listen: 'follow', clips: true, input: true }, 'c'],
    [{ listen: 'follow', clips: true, input: true, ready: true }, 'i']
  ])('set to %j hears %s', (set, heard) => expect(hears(set)).toBe(heard))
})
