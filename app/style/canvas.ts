// What every drawing on a canvas begins with: a clear ground as sharp as the screen, and colours of the theme.

/**
 * @param width of the drawing, px of the page, as `height`
 * @param from px, as `to`: between them it is cleared
 * @returns its pen, which counts in px of the page too
 */
export function clearCanvas(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
  from = 0,
  to = width
): CanvasRenderingContext2D {
  const ratio = devicePixelRatio,
    w = Math.max(1, Math.round(width * ratio)),
    h = Math.max(1, Math.round(height * ratio))
  const g = canvas.getContext('2d')!
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w
    canvas.height = h
  }
  g.setTransform(ratio, 0, 0, ratio, 0, 0)
  g.clearRect(from, 0, to - from, height)
  return g
}

/** @param names of custom properties, with their dashes */
export function coloursOf<K extends string>(el: Element, names: Readonly<Record<K, string>>): Record<K, string> {
  const style = getComputedStyle(el)
  const found = Object.entries<string>(names).map(([key, name]) => [key, style.getPropertyValue(name).trim()])
  return Object.fromEntries(found) as Record<K, string>
}
