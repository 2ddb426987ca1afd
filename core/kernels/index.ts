// The module: what a host may call.
import { begin, walk } from './walk'
export { openMarks } from './quiet'
export { rouse, lead, follow } from './team'
export { resample } from './resample'

/** `table`: `count` pointers to operations in the order they are to run; `frame`: the block's first absolute frame. */
export function run(table: usize, count: i32, frame: f64): void {
  begin(frame)
  walk(table, count)
}
