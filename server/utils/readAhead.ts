// Reads on while nobody asks yet: what has come is kept from the first moment, whatever its reader still waits for.

/**
 * The same pieces, read up to so many bytes ahead of who takes them. What the source fails with comes after them.
 * @param mostBytes read ahead at most, but for the last piece
 */
export function readAhead(source: AsyncIterable<Uint8Array>, mostBytes: number): AsyncIterable<Uint8Array> {
  const pieces: Uint8Array[] = []
  let bytes = 0,
    isOver = false,
    isLeft = false,
    fault: unknown
  let changed = () => {}
  const change = () => new Promise<void>(done => (changed = done))

  async function pump(): Promise<void> {
    try {
      for await (const piece of source) {
        pieces.push(piece)
        bytes += piece.length
        changed()
        while (bytes >= mostBytes && !isLeft) await change()
        if (isLeft) break
      }
    } catch (error) {
      fault = error
    }
    isOver = true
    changed()
  }
  const pumped = pump()

  return {
    async *[Symbol.asyncIterator]() {
      try {
        for (;;) {
          const piece = pieces.shift()
          if (piece) {
            bytes -= piece.length
            changed()
            yield piece
          } else if (isOver) {
            if (fault) throw fault as Error
            return
          } else await change()
        }
      } finally {
        isLeft = true
        changed()
        await pumped
      }
    }
  }
}
