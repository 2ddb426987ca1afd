// Edits that wait, kept in the browser: each page under a key of its own, so that none overwrites another's. Pages that
// are no more leave theirs behind; whoever opens the session next takes them over.
import type { EditMessage } from '@nullet/core/session/editMessage'

export interface Waiting {
  gesture: string
  edit: EditMessage
  label: string
  /** Milliseconds since 1970. */
  at: number
  /** The gesture that this one takes back or makes again: its rows may still change while it waits. */
  reverts?: string
}

export interface Shelf {
  getItem(key: string): string | null
  setItem(key: string, value: string): void
  removeItem(key: string): void
  readonly length: number
  key(index: number): string | null
}

export interface Kept {
  era: string
  edits: readonly Waiting[]
}

export class WaitingShelf {
  /** @param alive says whether the page of that client is still open */
  constructor(
    private readonly shelf: Shelf,
    private readonly session: string,
    private readonly client: string,
    private readonly alive: (client: string) => Promise<boolean>
  ) {}

  private get prefix(): string {
    return `nullet waiting/${this.session}/`
  }

  /** @returns false where the browser has no room: then they wait in this page alone */
  keep(era: string, edits: readonly Waiting[]): boolean {
    try {
      if (edits.length) this.shelf.setItem(this.prefix + this.client, JSON.stringify({ era, edits } satisfies Kept))
      else this.shelf.removeItem(this.prefix + this.client)
      return true
    } catch {
      return false
    }
  }

  /** What pages that are no more left behind. It is theirs until `release`. */
  async left(): Promise<{ kept: Kept[]; release(): void }> {
    const keys = Array.from({ length: this.shelf.length }, (_, i) => this.shelf.key(i)).filter(k =>
      k?.startsWith(this.prefix)
    ) as string[]
    const found: Kept[] = [],
      taken: string[] = []
    for (const key of keys) {
      const client = key.slice(this.prefix.length)
      if (client !== this.client && (await this.alive(client))) continue
      const kept = read(this.shelf.getItem(key))
      if (client !== this.client) taken.push(key)
      if (kept) found.push(kept)
    }
    return { kept: found, release: () => taken.forEach(k => this.shelf.removeItem(k)) }
  }
}

/** Edits of several pages as they were made, each page's in its own order: clocks may go back. */
export function inOrder(kept: readonly Kept[]): Waiting[] {
  const all = kept.flatMap(({ edits }) => {
    let at = -Infinity
    return edits.map(edit => ({ edit, at: (at = Math.max(at, edit.at)) }))
  })
  return all.sort((a, b) => a.at - b.at).map(o => o.edit)
}

function read(text: string | null): Kept | null {
  try {
    const kept = JSON.parse(text ?? 'null') as Kept | null
    return typeof kept?.era === 'string' && Array.isArray(kept.edits) ? kept : null
  } catch {
    return null
  }
}
