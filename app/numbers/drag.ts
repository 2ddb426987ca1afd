// A hand that drags a number: along the way it goes, further from it finer. Nothing moves before it has gone 3 px.

export interface Drag {
  /** @param by share of the way since it began, + to the right */
  move(by: number): void
  /** @param moved false when the hand let go where it had pressed */
  end(moved: boolean): void
}
const DEAD_PX = 3
/** From so far beside the way on the hand is finer: half at 36 px, a quarter at 84 px. */
const FINE_FROM_PX = 12,
  FINE_PER_PX = 24

/** @param widthPx what the whole way is on the screen @returns takes the listeners away */
export function drag(el: HTMLElement, down: PointerEvent, widthPx: number, hand: Drag): () => void {
  el.setPointerCapture(down.pointerId)
  let moved = false,
    by = 0,
    last = down.clientX
  const move = (e: PointerEvent) => {
    if (!moved && Math.abs(e.clientX - down.clientX) < DEAD_PX) return
    moved = true
    const fine = 1 / (1 + Math.max(0, Math.abs(e.clientY - down.clientY) - FINE_FROM_PX) / FINE_PER_PX)
    // Added up, so that moving off the way does not make the value jump.
    by += ((e.clientX - last) / widthPx) * fine
    last = e.clientX
    hand.move(by)
  }
  const leave = () => {
    el.removeEventListener('pointermove', move)
    el.removeEventListener('pointerup', up)
    el.removeEventListener('pointercancel', up)
  }
  const up = () => {
    leave()
    hand.end(moved)
  }
  el.addEventListener('pointermove', move)
  el.addEventListener('pointerup', up)
  el.addEventListener('pointercancel', up)
  return leave
}
