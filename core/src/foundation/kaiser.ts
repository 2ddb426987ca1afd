// Kaiser's window: J. F. Kaiser, R. W. Schafer, IEEE Trans. ASSP 28 (1980).

/** Modified Bessel function of order 0, by its series. */
function besselI0(x: number): number {
  let sum = 1,
    term = 1
  for (let k = 1; k < 60; k++) {
    term *= (x / (2 * k)) ** 2
    sum += term
  }
  return sum
}

/** @param r place in the window, −1 … 1 */
export const kaiser = (r: number, beta: number): number =>
  Math.abs(r) >= 1 ? 0 : besselI0(beta * Math.sqrt(1 - r * r)) / besselI0(beta)
