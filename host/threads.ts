// A render on two cores: another thread helps with its machine. See core/kernels/team.ts.
import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import { compile } from '@nullet/core/compile/compile'
import type { CompileOptions } from '@nullet/core/compile/plan'
import { layOut } from '@nullet/core/run/layout'
import { Machine } from '@nullet/core/run/machine'
import { PlanStream } from '@nullet/core/run/stream'
import { letGo, takeOn, type Team } from '@nullet/core/run/team'
import { worthTwo } from '@nullet/core/run/shares'
import type { MediaReader } from '@nullet/core/run/mediaReader'
import type { Session } from '@nullet/core/session/session'

/** Beside the bundle that runs, or among the bundles when the source runs. */
export const helperPath = ['./helper.mjs', '../build/helper.mjs']
  .map(p => fileURLToPath(new URL(p, import.meta.url)))
  .find(existsSync)

/** The thread that helps one render after the other, since to start one takes as long as seconds of sound. */
let helper: Worker | null = null
/** Whom it helps: the latest, also where an earlier one has not ended. */
let helped: Team | null = null
function theHelper(path: string): Worker {
  if (helper) return helper
  const made = new Worker(path)
  made.unref()
  const gone = () => {
    if (helper === made) helper = null
  }
  // Whoever leads does all where nobody comes.
  made.on('error', gone)
  made.on('exit', gone)
  return (helper = made)
}

export interface Rendering {
  stream: PlanStream
  end(): void
}

/** A stream over a plan, on two cores where there are two and the plan is large enough, or as `threads` says. */
export function startRender(session: Session, media: MediaReader, options: CompileOptions, threads?: 1 | 2): Rendering {
  const plan = compile(session, options)
  const forTwo = threads === undefined ? availableParallelism() > 1 && worthTwo(plan.ops) : threads === 2
  const machine = new Machine(plan.ops, layOut(plan.ops, { forTwo }), () => performance.now()),
    stream = new PlanStream(plan, session, media, machine)
  const team = machine.forAnother
  if (!team || !helperPath) return { stream, end: () => {} }
  // Until it comes this thread does all, and so it goes on where it does not come.
  if (helped) letGo(helped)
  takeOn((helped = team))
  theHelper(helperPath).postMessage(team)
  return {
    stream,
    end() {
      letGo(team)
      if (helped === team) helped = null
    }
  }
}
