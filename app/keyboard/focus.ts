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
  let isPointerDown = false
  const listeners: [keyof WindowEventMap, (e: Event) => void][] = [
    [
      'focusin',
      e => {
        // A script that gives the focus is a hand on the keyboard.
        if (!isPointerDown) byPointer = false
        const target = e.target as HTMLElement
        // A field that was left is not where one goes on.
        if (!target.closest(`${OVER}, input:not([type="checkbox"]), textarea`)) last = target
      }
    ],
    ['pointerdown', () => (isPointerDown = byPointer = true)],
    ['pointerup', () => setTimeout(() => (isPointerDown = false), 0)],
    [
      'keydown',
      e => {
        const { key } = e as KeyboardEvent
        if (key === 'Tab' || key.startsWith('Arrow')) byPointer = false
      }
    ]
  ]
  const isLost = () => document.activeElement === null || document.activeElement === document.body
  function settle(): void {
    void nextTick(() =>
      requestAnimationFrame(() => {
        if (!isLost()) return
        const home = last?.isConnected && last.offsetParent ? last : document.querySelector<HTMLElement>(HOME)
        home?.focus({ preventScroll: true })
      })
    )
  }
  watch(changes, settle)
  onMounted(() => listeners.forEach(([kind, hear]) => window.addEventListener(kind, hear, true)))
  onBeforeUnmount(() => listeners.forEach(([kind, hear]) => window.removeEventListener(kind, hear, true)))
  return { settle }
}
