// Where the engine reads audio from: a package, the database, memory.

/** Audio by medium. Returns legs × frames; frames beyond the end are zero. */
export interface MediaReader {
  read(medium: string, from: number, frames: number): Float32Array[] | Promise<Float32Array[]>
}
