// What can be taken back and made again: one list of one's own gestures, in order, each under its own key.
import { inverse, type RowChange } from '@nullet/core/session/session'

export interface Step {
  gesture: string
  label: string
  changes: readonly RowChange[]
  /** Something beside the session's rows, a template for example: how it is taken back and made again. */
  beside?: Beside
}
export interface Beside {
  /** What it was done to. */ about: string
  /** When, ISO 8601. */ at: string
  undo(): Promise<unknown>
  redo(): Promise<unknown>
}

/** A step as the log has it. */
export interface Recalled extends Step {
  reverts: string | null
}

const MOST = 200

export class History {
  undos: readonly Step[] = []
  redos: readonly Step[] = []

  /** A new gesture: what was taken back before it cannot be made again. */
  done(step: Step): void {
    this.undos = [...this.undos.slice(1 - MOST), step]
    this.redos = []
  }

  /** A gesture that the server carried out for this page: an import, a print. What was taken back stays. */
  arrived(step: Step): void {
    this.undos = [...this.undos.slice(1 - MOST), step]
  }

  /**
   * What the log knows of one's own gestures before this page was there: they lie under what this page has done. One
   * that was taken back can be made again as long as nothing was done since.
   * @param entries one's own, the oldest first
   */
  recall(entries: readonly Recalled[]): void {
    const undos: Step[] = []
    let redos: Step[] = []
    for (const { gesture, label, changes, reverts } of entries) {
      if (!reverts) {
        undos.push({ gesture, label, changes })
        redos = []
        continue
      }
      for (const [from, to] of [
        [undos, redos],
        [redos, undos]
      ] as const) {
        const at = from.findIndex(s => s.gesture === reverts)
        if (at < 0) continue
        const [back] = from.splice(at, 1)
        to.push({ gesture, label: back!.label, changes })
        break
      }
    }
    if (!this.undos.length && !this.redos.length) this.redos = redos
    this.undos = [...undos, ...this.undos].slice(-MOST)
  }

  /** What a gesture really changed, as the server says; edits of others may have come in between. */
  settled(gesture: string, changes: readonly RowChange[]): void {
    const put = (list: readonly Step[]) =>
      list.some(s => s.gesture === gesture) ? list.map(s => (s.gesture === gesture ? { ...s, changes } : s)) : list
    this.undos = put(this.undos)
    this.redos = put(this.redos)
  }

  /** A gesture that came to nothing is not there to be taken back. */
  forget(gesture: string): void {
    this.undos = this.undos.filter(s => s.gesture !== gesture)
    this.redos = this.redos.filter(s => s.gesture !== gesture)
  }

  /** The step that undo or redo means, and the changes that carry it out. */
  next(way: 'undo' | 'redo'): { step: Step; changes: RowChange[] } | null {
    const step = (way === 'undo' ? this.undos : this.redos).at(-1)
    return step ? { step, changes: inverse(step.changes) } : null
  }

  /** The last step moved over, under the gesture that carried it out. */
  moved(way: 'undo' | 'redo', made: Step): void {
    if (way === 'undo') {
      this.undos = this.undos.slice(0, -1)
      this.redos = [...this.redos, made]
    } else {
      this.redos = this.redos.slice(0, -1)
      this.undos = [...this.undos, made]
    }
  }

  clear(): void {
    this.undos = this.redos = []
  }
}
