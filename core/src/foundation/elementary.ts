// The elementary functions that shape sound, from the four operations and √ alone. Runtimes disagree on the last
// bit of their built-in ones; these give the same samples everywhere. Relative error below 1e-14 over the ranges used.
// Sources: Cody & Waite, "Software Manual for the Elementary Functions", 1980; series as given beside each.

export const PI = 3.141592653589793
export const LN2 = 0.6931471805599453
const HALF_PI_HIGH = 1.5707963267341256,
  HALF_PI_LOW = 6.077100506506192e-11

const bits = new DataView(new ArrayBuffer(8))

/** 2^n for whole n in the range of normal numbers. */
function powerOfTwo(n: number): number {
  bits.setUint32(4, 0)
  bits.setUint32(0, (n + 1023) << 20)
  return bits.getFloat64(0)
}

/** 1/14!, 1/12!, … 1 and 1/15!, 1/13!, … 1: even and odd powers beside one another, so that neither waits. */
const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1))
const EVEN = Array.from({ length: 8 }, (_, i) => 1 / factorial(14 - 2 * i))
const UNEVEN = Array.from({ length: 8 }, (_, i) => 1 / factorial(15 - 2 * i))

export function exp(x: number): number {
  if (x !== x) return x
  if (x > 709) return Infinity
  if (x < -700) return 0
  const n = Math.round(x / LN2)
  const r = x - n * 0.6931471803691238 - n * 1.9082149292705877e-10
  const u = r * r
  let even = 0,
    uneven = 0
  for (let i = 0; i < EVEN.length; i++) {
    even = even * u + EVEN[i]
    uneven = uneven * u + UNEVEN[i]
  }
  return (even + r * uneven) * powerOfTwo(n)
}

/** 1/21, 1/19, … 1. */
const ODD = Array.from({ length: 11 }, (_, i) => 1 / (21 - 2 * i))

/** Natural logarithm of a positive normal number: exponent, then atanh's series on [√½, √2). */
export function log(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN
  if (x === Infinity) return x
  bits.setFloat64(0, x)
  const high = bits.getUint32(0)
  let n = (high >>> 20) - 1023
  bits.setUint32(0, (high & 0xfffff) | 0x3ff00000)
  let m = bits.getFloat64(0)
  if (m > 1.4142135623730951) {
    m /= 2
    n++
  }
  const t = (m - 1) / (m + 1),
    u = t * t
  let sum = 0
  for (let i = 0; i < ODD.length; i++) sum = sum * u + ODD[i]
  return n * LN2 + 2 * t * sum
}

export const exp2 = (x: number) => exp(x * LN2)
export const log10 = (x: number) => log(x) / 2.302585092994046
/** a to the power x, for positive a. */
export const pow = (a: number, x: number) => exp(x * (a === 10 ? LOG_OF_TEN : log(a)))
const LOG_OF_TEN = log(10)

function sinSeries(r: number): number {
  const u = r * r
  let sum = 1
  for (let k = 18; k >= 2; k -= 2) sum = 1 - (sum * u) / (k * (k + 1))
  return r * sum
}

function cosSeries(r: number): number {
  const u = r * r
  let sum = 1
  for (let k = 19; k >= 1; k -= 2) sum = 1 - (sum * u) / (k * (k + 1))
  return sum
}

export function sin(x: number): number {
  const n = Math.round(x / (PI / 2))
  const r = x - n * HALF_PI_HIGH - n * HALF_PI_LOW
  const quadrant = ((n % 4) + 4) % 4
  const value = quadrant % 2 ? cosSeries(r) : sinSeries(r)
  return quadrant > 1 ? -value : value
}

export const cos = (x: number) => sin(x + PI / 2)
export const tan = (x: number) => sin(x) / cos(x)

/** arctangent, by two halvings of the angle and Taylor's series. */
export function atan(x: number): number {
  if (x < 0) return -atan(-x)
  if (x > 1) return PI / 2 - atan(1 / x)
  const half = (v: number) => v / (1 + Math.sqrt(1 + v * v))
  const t = half(half(x)),
    u = t * t
  let sum = 0
  for (let k = 33; k >= 1; k -= 2) sum = 1 / k - sum * u
  return 4 * t * sum
}

/** Angle of the point (x, y) from the x axis, −π … π. */
export function atan2(y: number, x: number): number {
  if (x === 0) return y === 0 ? 0 : y > 0 ? PI / 2 : -PI / 2
  const angle = atan(y / x)
  return x > 0 ? angle : y >= 0 ? angle + PI : angle - PI
}

/** Linear gain of a level in dB; −∞ (also written as null) is 0. */
export const gainOf = (db: number | null) =>
  db === null || db === -Infinity ? 0 : db === 0 ? 1 : exp(db * 0.11512925464970228)
/** On the way to and from −∞ a level passes here; at and below it there is silence. */
export const FLOOR_DB = -120
/** Level in dB of a linear gain; 0 is −∞. */
export const decibels = (gain: number) => (gain > 0 ? 20 * log10(gain) : -Infinity)
