// Which stroke an event is, whatever the layout and whether caps lock is on: by the letter where it is Latin, by the
// key's place where it is not.
const SIGNS: Record<string, [plain: string, shifted: string]> = { Slash: ['/', '?'], Period: ['.', '.'] }

export interface Stroke {
  readonly key: string
  readonly code: string
  readonly shiftKey: boolean
}

export function strokeOf({ key, code, shiftKey }: Stroke): string {
  if (/^[a-z]$/i.test(key)) return key.toLowerCase()
  const isLatin = [...key].every(c => c.charCodeAt(0) < 0x250)
  if (isLatin) return key
  const letter = /^Key([A-Z])$/.exec(code)?.[1]
  if (letter) return letter.toLowerCase()
  return SIGNS[code]?.[shiftKey ? 1 : 0] ?? key
}
