// What page and analyst say to each other.
import type { EditMessage } from '@nullet/core/session/editMessage'
import type { CostRow } from '@nullet/core/measure/cost'
import type { RenderRange } from '@nullet/core/run/stream'
import type { Contribution, Influence } from '@nullet/core/measure/influence'
import type { Rung, Target, Trim } from '@nullet/core/measure/ladder'
import type { Sides } from '@nullet/core/measure/sides'
import type { SumProof } from '@nullet/core/print/sum'
import type { Residual } from '@nullet/core/measure/null'

export type Task =
  | { kind: 'without'; channel: string; range: RenderRange }
  | { kind: 'share'; channel: string; heard: string; range: RenderRange }
  | { kind: 'null'; edit: EditMessage; heard: string; range: RenderRange }
  | { kind: 'loudness'; channels: string[]; range: RenderRange }
  /** What is heard as each of the edits would make it. */
  | { kind: 'sides'; edits: EditMessage[]; heard: string; range: RenderRange }
  /** What is stored of a print against its live path. */
  | { kind: 'prove'; print: string }
  /** The sum of what is stored of shares against the tap that they are shares of, live. */
  | { kind: 'sum'; prints: string[]; range: RenderRange }
  /** `tries` are edits of which the saving is wanted. */
  | { kind: 'cost'; heard: string; range: RenderRange; tries: { name: string; edit: EditMessage }[] }
  | { kind: 'observe'; range: RenderRange }
  | { kind: 'ladder'; loop: string; range: RenderRange }
  | { kind: 'trim'; loop: string; range: RenderRange; target: Target }
  /** The waveform of a channel at its post-fader tap. */
  | { kind: 'outline'; channel: string; range: RenderRange }

export type Answer =
  | { kind: 'without'; places: Influence[] }
  | ({ kind: 'share' } & Contribution)
  | ({ kind: 'null' } & Residual)
  | { kind: 'loudness'; lufs: [string, number][] }
  | ({ kind: 'sides' } & Sides)
  | ({ kind: 'sum' } & SumProof)
  | ({ kind: 'prove'; culprits: string[] } & Residual)
  | { kind: 'cost'; rows: CostRow[]; seconds: number; audioSeconds: number; saved: { name: string; share: number }[] }
  | { kind: 'observe'; peaksDb: [string, number][] }
  | { kind: 'ladder'; rungs: Rung[] }
  | ({ kind: 'trim' } & Trim)
  | { kind: 'outline'; peaks: Int16Array }

export type FromAnalyst =
  { kind: 'progress'; share: number } | { kind: 'done'; answer: Answer } | { kind: 'failed'; message: string }
