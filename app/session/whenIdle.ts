// What can wait for a browser that is still drawing.

/** When the browser has nothing else to do, and not at once. */
export function whenIdle(act: () => void): void {
  if ('requestIdleCallback' in globalThis) requestIdleCallback(act, { timeout: 3000 })
  else setTimeout(act, 1000)
}
