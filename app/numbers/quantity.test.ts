// Every number under a hand: where it lies on its way and back, arrows, what is written, read and read out.
import { describe, expect, it } from 'vitest'
import {
  byKey,
  FADER,
  GAIN,
  PAN,
  placeOf,
  quantityOf,
  rangeText,
  read,
  SHARE,
  spoken,
  stepped,
  typed
} from './quantity'
import { valueAt, write, type Quantity } from './quantity'
import { drag } from './drag'

const DB: Quantity = { ...FADER, label: 'level' },
  TRIM: Quantity = { ...GAIN, label: 'trim' },
  SIDE: Quantity = { ...PAN, label: 'pan' },
  MIX: Quantity = { ...SHARE, label: 'mix' },
  HZ: Quantity = { label: 'centre', unit: 'Hz', min: 20, max: 20000, law: 'ratio', initial: 1000 },
  CUT: Quantity = { label: 'low cut', unit: 'Hz', min: 10, max: 2000, law: 'ratio', off: true },
  MS: Quantity = { label: 'release', unit: 'ms', min: 5, max: 2000, initial: 120 },
  COUNT: Quantity = { label: 'how many', min: 1, max: 200, whole: true, write: String }

describe('the way of a hand', () => {
  it.each([
    [DB, -40],
    [DB, 12],
    [TRIM, 31.5],
    [SIDE, 0.25],
    [MIX, 0.4],
    [HZ, 632],
    [HZ, 20000],
    [MS, 740],
    [COUNT, 17]
  ])('%o at %d comes back', (q, value) => {
    expect(Math.abs(valueAt(q, placeOf(q, value))! - value)).toBeLessThan(Math.abs(value) * 0.001 + 0.06)
  })
  it('begins at −∞ for levels alone, and stays at its ends beyond them', () => {
    expect([placeOf(DB, null), placeOf(TRIM, null)]).toEqual([0, 0])
    expect([DB, TRIM, SIDE, HZ, CUT].map(q => valueAt(q, -0.2))).toEqual([null, null, -1, 20, 10])
    expect([DB, TRIM, SIDE, HZ].map(q => valueAt(q, 1.4))).toEqual([12, 48, 1, 20000])
  })
  it('rises with the value', () => {
    for (let db = -59; db < 12; db++) expect(placeOf(DB, db + 1)).toBeGreaterThan(placeOf(DB, db))
  })
})

describe('arrows', () => {
  it('move levels by half a dB, down to −∞ and up again', () => {
    expect([stepped(DB, -6, 1), stepped(DB, -6, -1), stepped(DB, -59.5, -1), stepped(DB, null, 1)]).toEqual([
      -5.5,
      -6.5,
      null,
      -59.5
    ])
    expect(stepped(DB, 12, 1)).toBe(12)
  })
  it('move ratios by ratios, whole numbers by one, and stop at the ends', () => {
    expect(stepped(HZ, 1000, 1)! / 1000).toBeCloseTo(1000 ** 0.01, 2)
    expect([stepped(HZ, 20, -1), stepped(SIDE, 0.99, 1), stepped(COUNT, 3, 1), stepped(COUNT, 1, -1)]).toEqual([
      20, 1, 4, 1
    ])
  })
  it('are known by their keys; other keys are none of them', () => {
    expect(['ArrowUp', 'ArrowLeft', 'PageUp', 'Home', 'End'].map(k => byKey(DB, -6, k))).toEqual([
      -5.5,
      -6.5,
      -3,
      null,
      12
    ])
    expect(byKey(DB, -6, 'Tab')).toBeUndefined()
  })
})

describe('words', () => {
  it('say the value with its unit when it is read out', () => {
    expect([spoken(DB, -40), spoken(DB, null), spoken(HZ, 2500), spoken(SIDE, -0.5), spoken(MIX, 0.4)]).toEqual([
      '−40.0 dB',
      '−∞ dB',
      '2.50 kHz',
      'L50',
      '40 %'
    ])
    expect([write(CUT, null), write(DB, null), typed(DB, -6.25), typed(SIDE, 1)]).toEqual([
      'off',
      '−∞',
      '−6.25',
      'R100'
    ])
  })
  it('name the range', () => {
    expect([rangeText(DB), rangeText(CUT), rangeText(COUNT)]).toEqual([
      '−150 to 12 dB, or −∞',
      '10 to 2000 Hz, or off',
      '1 to 200'
    ])
  })
  it.each<[Quantity, string, number | null | string]>([
    [DB, '-20+3', -17],
    [DB, '-inf', null],
    [HZ, '2.5 kHz', 2500],
    [CUT, 'off', null],
    [SIDE, 'L30', -0.3],
    [SIDE, 'left', '“left” is not a pan: L100 to R100, or C'],
    [MIX, '40', 0.4],
    [MIX, '140 %', '0 to 100 %'],
    [COUNT, '2.5', 'a whole number'],
    [MS, '0.5 s', 500]
  ])('%o reads “%s” as %s', (q, text, expected) => {
    const got = read(q, text)
    expect('value' in got ? got.value : got.fault).toBe(expected)
  })
  it('of what an envelope moves are those of its field', () => {
    const ride = { label: 'Level ride', unit: 'dB', law: 'db', min: -60, max: 12, rest: 0, tolerance: 0.1 } as const
    expect(valueAt(quantityOf(ride, 'levelDb', 'ride'), placeOf(DB, -6))).toBe(-6)
    const pan = { label: 'Pan', unit: '', law: 'linear', min: -1, max: 1, rest: 0, tolerance: 0.01 } as const
    expect(spoken(quantityOf(pan, 'pan', 'pan'), -0.5)).toBe('L50')
  })
})

describe('a drag', () => {
  /** An element that can be listened to, and a hand on it. */
  function hand(moves: [x: number, y: number][]) {
    const el = Object.assign(new EventTarget(), { setPointerCapture: () => {} }) as unknown as HTMLElement
    const at = (kind: string, [clientX, clientY]: [number, number]) =>
      Object.assign(new Event(kind), { clientX, clientY })
    const seen: number[] = []
    let ended: boolean | null = null
    drag(el, at('pointerdown', [100, 50]) as unknown as PointerEvent, 200, {
      move: by => seen.push(by),
      end: moved => (ended = moved)
    })
    moves.forEach(m => el.dispatchEvent(at('pointermove', m)))
    el.dispatchEvent(at('pointerup', moves.at(-1) ?? [100, 50]))
    el.dispatchEvent(at('pointermove', [300, 50]))
    return { seen, ended: ended as boolean | null }
  }
  it('that stays within 3 px is a click', () => expect(hand([[102, 50]])).toEqual({ seen: [], ended: false }))
  it('goes as far as the hand', () =>
    expect(
      hand([
        [120, 50],
        [150, 50]
      ])
    ).toEqual({ seen: [0.1, 0.25], ended: true }))
  it('is finer beside its way, and leaving the way moves nothing', () => {
    const { seen } = hand([
      [120, 50],
      [120, 86],
      [140, 86]
    ])
    seen.forEach((by, i) => expect(by).toBeCloseTo([0.1, 0.1, 0.15][i]!, 12))
  })
})
