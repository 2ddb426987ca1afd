/** Hands a text to the browser as a file. */
export function takeOut(name: string, type: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const a = Object.assign(document.createElement('a'), { href: url, download: name.replace(/[\\/:*?"<>|]+/g, ' ') })
  a.click()
  setTimeout(() => URL.revokeObjectURL(url), 1000)
}
