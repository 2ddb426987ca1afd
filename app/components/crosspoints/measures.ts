/** Sizes of the grid in px. */
export const ROW = 26,
  COL = 38,
  HEAD = 128,
  NAME = 178
