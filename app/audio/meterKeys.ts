// What a meter shows, by its key: the deepest gain of a slot (`gain/…`), an RMS (`rms/…`), or a peak.
export const isGain = (key: string): boolean => key.startsWith('gain/')
export const isRms = (key: string): boolean => key.startsWith('rms/')
export const isPeak = (key: string): boolean => !isGain(key) && !isRms(key)
