// Names in series: “Choir #” gives Choir 1, Choir 2 …; “Mic ##” gives Mic 01, Mic 02 …

/** One name for each of `count`; without a # the number is put behind. */
export function seriesNames(pattern: string, count: number): string[] {
  const place = /#+/.exec(pattern)
  const text = place ? pattern : `${pattern} #`
  const width = place ? place[0].length : 1
  return Array.from({ length: count }, (_, i) => text.replace(/#+/, String(i + 1).padStart(width, '0')))
}
