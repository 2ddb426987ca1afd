// The levels of many bars on one canvas that lies over them and scrolls with them: a level that moves paints a few
// pixels and touches no element.
import type { InjectionKey } from 'vue'
import { levelShare } from '~/numbers/levelScale'
import { clearCanvas } from '~/style/canvas'

/** A bar whose level is painted. */
export interface LevelMark {
  readonly element: HTMLElement
  /** Key of its level; its RMS has `rms/` before it. */
  meter(): string
  /** Shares of the bar at which a notch shows through what is painted. */
  notches(): number[]
  /** How much of it shows: 1 all, less where the strip is dimmed. */
  shown(): number
}
/** Takes the levels of a bar into the canvas around it. @returns takes them out */
export const LEVELS: InjectionKey<(mark: LevelMark) => () => void> = Symbol('levels')

/** Of the theme. */
export const LEVEL_INK = { signal: '--signal', mean: '--ink', over: '--wrong' }
export type LevelInk = typeof LEVEL_INK
/** From where to where, px. */
export interface Stretch {
  top: number
  bottom: number
}
interface Placed {
  mark: LevelMark
  x: number
  y: number
  width: number
  /** What is painted, as one number; NaN for nothing yet. */
  painted: number
}

/** Pixels of a bar, from its middle: the peak, and the mean in it. */
const PEAK = { top: -1.5, height: 4 },
  MEAN = { top: 0.5, height: 2 },
  NOTCH = { top: -6.5, height: 12, half: 4.5 }
const MEAN_SHOWN = 0.45
/** The canvas begins and ends on such lines, so that scrolling by a row leaves it where it is. */
const STEP = 64
const ZERO = levelShare(0)

export class LevelPaint {
  private readonly marks = new Set<LevelMark>()
  private placed: Placed[] = []
  private top = 0
  private stale = true

  /** @param canvas over the bars @param ground what bars and canvas lie in @param sight of the ground */
  constructor(
    private readonly canvas: () => HTMLCanvasElement,
    private readonly ground: () => HTMLElement,
    private readonly sight: () => Stretch
  ) {}

  add(mark: LevelMark): () => void {
    this.marks.add(mark)
    this.stale = true
    return () => {
      this.marks.delete(mark)
      this.stale = true
    }
  }

  /** Bars may have moved: where they lie is asked for before anything else is painted. */
  moved(): void {
    this.stale = true
  }

  /** @param levels dB by key of a meter */
  paint(levels: ReadonlyMap<string, number>, ink: LevelInk): void {
    if (this.stale) this.place()
    const g = this.canvas().getContext('2d')!
    for (const at of this.placed) {
      const key = at.mark.meter(),
        peak = Math.round(levelShare(levels.get(key) ?? -Infinity) * at.width),
        mean = Math.round(levelShare(levels.get(`rms/${key}`) ?? -Infinity) * at.width)
      const cut = peak || mean ? at.mark.notches() : [],
        shown = at.mark.shown()
      const painted = cut.reduce((sum, share) => sum * 1013 + Math.round(share * at.width), peak * 4099 + mean) + shown
      if (painted === at.painted) continue
      at.painted = painted
      this.paintOne(g, at, peak, mean, cut, shown, ink)
    }
  }

  private paintOne(
    g: CanvasRenderingContext2D,
    at: Placed,
    peak: number,
    mean: number,
    cut: number[],
    shown: number,
    ink: LevelInk
  ): void {
    g.clearRect(at.x, at.y + PEAK.top, at.width, PEAK.height)
    if (!peak && !mean) return
    g.globalAlpha = shown
    g.fillStyle = peak > ZERO * at.width ? ink.over : ink.signal
    g.fillRect(at.x, at.y + PEAK.top, peak, PEAK.height)
    g.globalAlpha = shown * MEAN_SHOWN
    g.fillStyle = ink.mean
    g.fillRect(at.x, at.y + MEAN.top, mean, MEAN.height)
    g.globalAlpha = 1
    g.globalCompositeOperation = 'destination-out'
    for (const share of cut) {
      const x = at.x + share * at.width,
        y = at.y + NOTCH.top
      g.beginPath()
      g.moveTo(x - NOTCH.half, y)
      g.lineTo(x + NOTCH.half, y)
      g.lineTo(x, y + NOTCH.height)
      g.fill()
    }
    g.globalCompositeOperation = 'source-over'
  }

  /** Asks where the bars lie, and lays the canvas over those in sight. */
  private place(): void {
    this.stale = false
    const ground = this.ground().getBoundingClientRect(),
      sight = this.sight()
    const top = Math.max(0, Math.floor(sight.top / STEP) - 1) * STEP,
      height = Math.min(ground.height - top, Math.ceil((sight.bottom - sight.top) / STEP + 2) * STEP)
    this.placed = []
    for (const mark of this.marks) {
      const bar = mark.element.getBoundingClientRect()
      const y = bar.top - ground.top + bar.height / 2 - top
      if (y < 0 || y > height) continue
      this.placed.push({
        mark,
        x: Math.round(bar.left - ground.left),
        // On a whole pixel, with the bar under it.
        y: Math.round(y - PEAK.top) + PEAK.top,
        width: Math.round(bar.width),
        painted: NaN
      })
    }
    this.lay(top, ground.width, height)
  }

  private lay(top: number, width: number, height: number): void {
    const canvas = this.canvas()
    if (top !== this.top) canvas.style.top = `${(this.top = top)}px`
    canvas.style.width = `${width}px`
    canvas.style.height = `${height}px`
    clearCanvas(canvas, width, height)
  }
}
