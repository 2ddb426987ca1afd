// Peak and loudness of audio as it passes.
import { LoudnessMeter } from '@nullet/core/measure/loudness'

/** To a thousandth of a dB: further digits depend on how the audio was cut into pieces. */
const finite = (db: number) => (Number.isFinite(db) ? Math.round(db * 1000) / 1000 : null)

export class Levels {
  private readonly loudness: LoudnessMeter
  constructor(layout: readonly string[], sampleRate: number) {
    this.loudness = new LoudnessMeter(layout, sampleRate, false)
  }

  feed(audio: readonly Float32Array[]): void {
    this.loudness.feed(audio)
  }

  /** null stands for −∞. */
  read(): { peakDb: number | null; loudnessLufs: number | null } {
    const { samplePeakDb, integratedLufs } = this.loudness.read()
    return { peakDb: finite(samplePeakDb), loudnessLufs: finite(integratedLufs) }
  }
}
