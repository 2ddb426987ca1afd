// The absolute frame of the block being computed. Everything periodic or random counts from frame 0.
export class Clock { frame: i64 = 0 }
export const clock = new Clock()
