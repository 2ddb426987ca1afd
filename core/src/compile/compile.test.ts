// The plan of a tap has the sound of the tracks from which the table of ways leads there, and of no others.
import { describe, expect, it } from 'vitest'
import { applyEdit } from '../edits/apply'
import { Refusal } from '../foundation/refusal'
import type { Closed } from '../graph/closed'
import { Edges, nodeName } from '../graph/edges'
import { rows, type Session } from '../session/session'
import { demoLike } from '../testing/demoLike'
import { Dice, generatedNetwork } from '../testing/generated'
import { generatedEdit } from '../testing/generatedEdits'
import { times } from '../testing/lengths'
import { Sketch } from '../testing/sketch'
import { compile } from './compile'

const hasClips = (edges: Edges, channel: string) => edges.network.clips.has(channel)

const computed = (edges: Edges, channel: string): string[] =>
  compile(edges.session, { taps: [{ channel, tap: 'post' }] })
    .sources.flatMap(s => s.channel ?? [])
    .filter(id => hasClips(edges, id))
    .sort()

/** What is computed though a value takes it away: behind a fader at −∞, in a slot that is bypassed or all dry. */
const BY_VALUE: ReadonlySet<Closed> = new Set<Closed>([
  'muted',
  'level',
  'trim',
  'legs',
  'dry',
  'wet',
  'send',
  'return',
  'bypassed'
])

function leadingThere(edges: Edges, channel: string, passes: (closed: Closed) => boolean): string[] {
  const from = nodeName('post', channel),
    found = new Set([from])
  for (const node of found)
    for (const edge of edges.into.get(node) ?? []) if (!edge.closed || passes(edge.closed)) found.add(edge.from)
  return rows(edges.session, 'channel')
    .filter(c => hasClips(edges, c.id) && found.has(nodeName('clips', c.id)))
    .map(c => c.id)
    .sort()
}

function compare(session: Session, what: string): void {
  const edges = new Edges(session)
  for (const { id } of rows(session, 'channel')) {
    const plan = computed(edges, id)
    expect(plan, `${what}, ${id}`).toEqual(expect.arrayContaining(leadingThere(edges, id, () => false)))
    expect(
      leadingThere(edges, id, c => BY_VALUE.has(c)),
      `${what}, ${id}`
    ).toEqual(expect.arrayContaining(plan))
  }
}

const SIZE = { tracks: 8, submixes: 3, returns: 2, stems: 2, sends: 4, keys: 2 }

describe('a plan has the sound of what leads to its tap, and no other', () => {
  it('in generated networks', () => {
    for (let seed = 1; seed <= times(20, 200); seed++) compare(generatedNetwork(seed, SIZE).session, `network ${seed}`)
  })
  it('in a session with a rig, after generated edits of all verbs', () => {
    let compared = 0
    for (let seed = 1; seed <= times(6, 60); seed++) {
      const dice = new Dice(seed)
      let { session } = demoLike(),
        serial = 0
      for (let n = 1; n <= 60; n++) {
        try {
          ;({ session } = applyEdit(
            session,
            generatedEdit(dice, session, () => `n${seed}-${++serial}`)
          ))
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
        }
        if (n % 10) continue
        compare(session, `history ${seed}, edit ${n}`)
        compared++
      }
    }
    expect(compared).toBeGreaterThan(5)
  })
})

describe('a leg that is all that meets somewhere, as it is', () => {
  const mixes = (k: Sketch, live: boolean) =>
    compile(k.session, { taps: [{ channel: 'main', tap: 'post' }], live })
      .ops.filter(o => o.kind === 'mix' && /\/(key\/)?in\/\d+$/.test(o.key))
      .map(o => o.key)

  /** A track to the main, and the key of its compressor from another one, both of one leg. */
  function keyed(fields: { levelDb?: number } = {}): Sketch {
    const k = new Sketch()
    for (const id of ['sung', 'struck']) {
      k.medium(`m-${id}`, 1, 1000)
      k.track(id, `m-${id}`)
    }
    k.bus('main', { role: 'main', layout: ['M'] })
    k.main('sung', 'main')
    k.key('struck', k.slot('sung', 'compressor', {}), 'input', fields)
    return k
  }

  it('takes no step where nothing will be moved, and one where a hand may move it', () => {
    expect(mixes(keyed(), false)).toEqual([])
    expect(mixes(keyed(), true)).toEqual([expect.stringMatching(/^slot\/.*\/key\/in\/0$/), 'channel/main/in/0'])
  })

  it('takes one where it is made louder or softer, or has company', () => {
    expect(mixes(keyed({ levelDb: -0.001 }), false)).toHaveLength(1)
    const k = keyed()
    k.main('struck', 'main')
    expect(mixes(k, false)).toEqual(['channel/main/in/0'])
  })
})
