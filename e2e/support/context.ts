// What the stage hands to the tests.
import type { Stage } from './stage'

declare module 'vitest' {
  export interface ProvidedContext { stage: Stage }
}
