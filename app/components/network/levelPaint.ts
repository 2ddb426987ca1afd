// The levels of many bars on canvases that lie over them and scroll with them, one for each column of bars: a level
// that moves paints a few pixels and touches no element, and what lies between columns has nothing laid over it.
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
/** A bar, where it lies in the ground, px. */
interface Bar {
  mark: LevelMark
  x: number
  y: number
  width: number
}
/** Bars above one another that are in sight, and the canvas over them. */
interface Column extends Stretch {
  x: number
  width: number
  canvas: HTMLCanvasElement
  bars: (Bar & {
    /** What is painted, as one number; NaN for nothing yet. */
    painted: number
  })[]
}

/** Pixels of a bar, from its middle: the peak, and the mean in it. */
const PEAK = { top: -1.5, height: 4 },
  MEAN = { top: 0.5, height: 2 },
  NOTCH = { top: -6.5, height: 12, half: 4.5 }
const MEAN_SHOWN = 0.45
/** A canvas begins and ends on such lines, so that scrolling by some rows leaves it where it is. */
const STEP = 256
const ZERO = levelShare(0)

export class LevelPaint {
  private readonly marks = new Set<LevelMark>()
  /** Where bars lie; null until it is asked for. */
  private bars: Bar[] | null = null
  private height = 0
  private columns: Column[] = []
  /** What canvases lie over. */
  private over: Stretch | null = null

  /**
   * @param canvases as many as are asked for, and no others, in the ground @param ground what bars lie in
   * @param sight of the ground; null: all
   */
  constructor(
    private readonly canvases: (count: number) => ArrayLike<HTMLCanvasElement>,
    private readonly ground: () => HTMLElement,
    private readonly sight: () => Stretch | null
  ) {}

  add(mark: LevelMark): () => void {
    this.marks.add(mark)
    this.moved()
    return () => {
      this.marks.delete(mark)
      this.moved()
    }
  }

  /** Bars may have moved: where they lie is asked for before anything else is painted. */
  moved(): void {
    this.bars = null
  }

  /** Where nothing sounds, no canvas is needed. */
  private rest(): void {
    if (this.columns.length) this.canvases(0)
    this.columns = []
    this.over = null
  }

  private sounds(levels: ReadonlyMap<string, number>): boolean {
    for (const mark of this.marks) {
      const key = mark.meter()
      if (levelShare(levels.get(key) ?? null) || levelShare(levels.get(`rms/${key}`) ?? null)) return true
    }
    return false
  }

  /** @param levels dB by key of a meter */
  paint(levels: ReadonlyMap<string, number>, ink: LevelInk): void {
    if (!this.sounds(levels)) return this.rest()
    this.lay()
    for (const column of this.columns) {
      const g = column.canvas.getContext('2d')!
      for (const at of column.bars) {
        const key = at.mark.meter(),
          peak = Math.round(levelShare(levels.get(key) ?? -Infinity) * column.width),
          mean = Math.round(levelShare(levels.get(`rms/${key}`) ?? -Infinity) * column.width)
        const cut = peak || mean ? at.mark.notches() : [],
          shown = at.mark.shown()
        const painted =
          cut.reduce((sum, share) => sum * 1013 + Math.round(share * column.width), peak * 4099 + mean) + shown
        if (painted === at.painted) continue
        at.painted = painted
        paintOne(g, at.y - column.top, column.width, peak, mean, cut, shown, ink)
      }
    }
  }

  /** Lays canvases over the bars in sight. */
  private lay(): void {
    const asked = !this.bars
    const bars = (this.bars ??= this.ask())
    const sight = this.sight() ?? { top: 0, bottom: this.height },
      top = Math.max(0, Math.floor(sight.top / STEP) - 1) * STEP,
      bottom = Math.min(this.height, top + Math.ceil((sight.bottom - sight.top) / STEP + 2) * STEP)
    if (!asked && this.over?.top === top && this.over.bottom === bottom) return
    this.over = { top, bottom }
    const columns = new Map<number, Omit<Column, 'canvas'>>()
    for (const bar of bars) {
      const { x, y, width } = bar
      if (y < top || y > bottom) continue
      const column = columns.get(x * 4099 + width) ?? { x, width, top: bottom, bottom: top, bars: [] }
      columns.set(x * 4099 + width, column)
      column.top = Math.max(top, Math.min(column.top, Math.floor((y + NOTCH.top) / STEP) * STEP))
      column.bottom = Math.min(bottom, Math.max(column.bottom, Math.ceil((y - NOTCH.top) / STEP) * STEP))
      column.bars.push({ ...bar, painted: NaN })
    }
    const canvases = this.canvases(columns.size)
    this.columns = [...columns.values()].map((column, i) => {
      lay(canvases[i]!, column)
      return { ...column, canvas: canvases[i]! }
    })
  }

  /** Asks the page where all bars lie. */
  private ask(): Bar[] {
    const element = this.ground(),
      ground = element.getBoundingClientRect()
    // Inside of its border, where a canvas is laid.
    const left = ground.left + element.clientLeft,
      above = ground.top + element.clientTop
    this.height = ground.height
    return [...this.marks].map(mark => {
      const bar = mark.element.getBoundingClientRect()
      return {
        mark,
        x: Math.round(bar.left - left),
        width: Math.round(bar.width),
        // On a whole pixel, with the bar under it.
        y: Math.round(bar.top - above + bar.height / 2 - PEAK.top) + PEAK.top
      }
    })
  }
}

function paintOne(
  g: CanvasRenderingContext2D,
  y: number,
  width: number,
  peak: number,
  mean: number,
  cut: number[],
  shown: number,
  ink: LevelInk
): void {
  g.clearRect(0, y + PEAK.top, width, PEAK.height)
  if (!peak && !mean) return
  g.globalAlpha = shown
  g.fillStyle = peak > ZERO * width ? ink.over : ink.signal
  g.fillRect(0, y + PEAK.top, peak, PEAK.height)
  g.globalAlpha = shown * MEAN_SHOWN
  g.fillStyle = ink.mean
  g.fillRect(0, y + MEAN.top, mean, MEAN.height)
  g.globalAlpha = 1
  g.globalCompositeOperation = 'destination-out'
  for (const share of cut) {
    const x = share * width
    g.beginPath()
    g.moveTo(x - NOTCH.half, y + NOTCH.top)
    g.lineTo(x + NOTCH.half, y + NOTCH.top)
    g.lineTo(x, y + NOTCH.top + NOTCH.height)
    g.fill()
  }
  g.globalCompositeOperation = 'source-over'
}

/** What is as it was is not written again: the page would have to look whether it is. */
function lay(canvas: HTMLCanvasElement, { x, width, top, bottom }: Omit<Column, 'canvas'>): void {
  const box = { left: `${x}px`, top: `${top}px`, width: `${width}px`, height: `${bottom - top}px` }
  for (const [name, value] of Object.entries(box) as [keyof typeof box, string][])
    if (canvas.style[name] !== value) canvas.style[name] = value
  clearCanvas(canvas, width, bottom - top)
}
