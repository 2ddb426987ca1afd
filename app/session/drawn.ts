// What a hand has done is seen before anything else is done about it.

/** A page that is drawn rarely is not waited for any longer, ms. */
const LONGEST_MS = 500

/** Once the page is drawn as it is now; at once where nothing is drawn. */
export function drawn(): Promise<void> {
  if (typeof document === 'undefined' || document.hidden) return Promise.resolve()
  return new Promise(done => {
    setTimeout(done, LONGEST_MS)
    requestAnimationFrame(() => setTimeout(done))
  })
}
