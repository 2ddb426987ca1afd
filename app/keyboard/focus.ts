// Focus never falls to the page's body: where what had it is gone, it goes back to where one was, or to the view.
import { nextTick, onBeforeUnmount, onMounted, watch, type WatchSource } from 'vue'

/** Controls that have a use of their own for Space and Enter. */
const PRESSED = 'button, a[href], summary, [role="button"], [role="tab"], [role="menuitem"], [role="link"]'
const CHANGED =
  'input, select, textarea, [role="checkbox"], [role="switch"], [role="radio"], [role="combobox"], [role="spinbutton"]'
const OVER = '[role="dialog"], [role="menu"], .notices'
const HOME = 'main.view [data-home], main.view [role="grid"][tabindex="0"], main.view'

let byPointer = false

/**
 * Does what has the focus want Space and Enter for itself? A button that was merely clicked does not keep them: the
 * hand is on the mouse, and Space means play.
 */
export function wantsPress(target: EventTarget | null): boolean {
  if (!(target instanceof Element)) return false
  if (target.closest(CHANGED)) return true
  const button = target.closest(PRESSED)
  return !!button && (!byPointer || !!button.closest(OVER))
}

export function useFocusHome(changes: WatchSource[]): { settle(): void } {
  let last: HTMLElement | null = null
  const focused = (e: FocusEvent) => {
    const target = e.target as HTMLElement
    // A field that was left is not where one goes on.
    if (!target.closest(`${OVER}, input:not([type="checkbox"]), textarea`)) last = target
  }
  const pointed = () => {
    byPointer = true
  }
  const keyed = (e: KeyboardEvent) => {
    if (e.key === 'Tab' || e.key.startsWith('Arrow')) byPointer = false
  }
  const isLost = () => document.activeElement === null || document.activeElement === document.body
  function settle(): void {
    void nextTick(() =>
      requestAnimationFrame(() => {
        if (!isLost()) return
        const home = last?.isConnected && last.offsetParent ? last : document.querySelector<HTMLElement>(HOME)
        byPointer = true
        home?.focus({ preventScroll: true })
      })
    )
  }
  watch(changes, settle)
  // A script that gives the focus is a hand on the keyboard.
  const given = () => {
    if (!isPointerDown) byPointer = false
  }
  let isPointerDown = false
  const down = () => {
    isPointerDown = true
    pointed()
  }
  const up = () => setTimeout(() => (isPointerDown = false), 0)
  onMounted(() => {
    window.addEventListener('focusin', given, true)
    window.addEventListener('focusin', focused)
    window.addEventListener('pointerdown', down, true)
    window.addEventListener('pointerup', up, true)
    window.addEventListener('keydown', keyed, true)
  })
  onBeforeUnmount(() => {
    window.removeEventListener('focusin', given, true)
    window.removeEventListener('focusin', focused)
    window.removeEventListener('pointerdown', down, true)
    window.removeEventListener('pointerup', up, true)
    window.removeEventListener('keydown', keyed, true)
  })
  return { settle }
}
