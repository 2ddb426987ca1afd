// What the stage hands to the tests.
import type { Stage } from './stage'

declare module 'vitest' {
  export interface ProvidedContext {
    stage: Stage
  }
}

// Where a page keeps its stores.
declare global {
  interface Element {
    __vue_app__: { config: { globalProperties: { $pinia: { _s: Map<string, unknown> } } } }
  }
}
