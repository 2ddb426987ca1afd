// A print proven again: what is stored of it against its live path as it is now.
import { rowOf, type Session } from '../session/session'
import type { Proof } from '../session/rows'
import { Refusal } from '../foundation/refusal'
import type { Residual } from '../measure/null'
import type { MediaReader } from '../run/mediaReader'
import { soundingSource, staleParts, partName } from './stale'
import { tracksOf } from './stems'
import { stageOf, tapOf } from './through'
import { Network } from '../graph/network'
import { tapKey } from '../compile/plan'
import { verify } from './verify'

/**
 * Renders the live path of a print, seed and range as it was printed, and compares, but for what is known to be lost.
 * What was cropped or moved since is no matter of it.
 * @throws Refusal where its source or its audio is not there any more
 */
export async function provePrint(
  session: Session,
  media: MediaReader,
  id: string,
  options: { progress?: (share: number) => void; stopped?: () => boolean } = {}
): Promise<Residual & { culprits: string[] }> {
  const print = rowOf(session, 'print', id),
    { source, tap: at, through, share, seed, faults } = print
  const clip = session.clip[print.clip ?? '']
  if (!source || !session.channel[source] || !clip)
    throw new Refusal(
      'notFound',
      `What “${session.channel[print.channel]?.name ?? id}” was printed from is not in the session any more`,
      [print.channel],
      'The print and what was proven of it are kept.'
    )
  const sent = { print: id, source, tap: at, through }
  const stage = stageOf(soundingSource(session, source), sent),
    tap = tapOf(sent)
  const only = share === null ? undefined : tracksOf(new Network(stage), share)
  const found = await verify(
    stage,
    media,
    [tap],
    { from: print.startFrame, frames: print.frames },
    seed,
    (_, at, frames) => media.read(clip.medium, at, frames),
    { ...options, only, except: () => faults.filter(f => f.kind === 'lost') }
  )
  const residual = found.get(tapKey(tap))!
  const culprits =
    residual.rmsDb === -Infinity ? [] : staleParts(session, id).map(p => `${partName(session, p)} changed`)
  return { ...residual, culprits }
}

const finite = (db: number) => (Number.isFinite(db) ? db : null)

/** What was found, as it is kept with prints. */
export const proofOf = (
  of: Proof['of'],
  { rmsDb, signalDb }: Pick<Residual, 'rmsDb' | 'signalDb'>,
  prints: readonly string[],
  culprits: readonly string[]
): Proof => ({
  of,
  at: new Date().toISOString(),
  leftDb: finite(rmsDb),
  signalDb: finite(signalDb),
  prints: [...prints],
  culprits: [...culprits]
})
