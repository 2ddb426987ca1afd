// Settings to begin from, by processor. Names say what they are for; what a preset leaves out goes to its initial
// value.
import { dictionary } from '../foundation/dictionary'
import type { Params } from '../session/rows'

export interface Preset {
  name: string
  params: Params
}

export const PRESETS: Record<string, readonly Preset[]> = dictionary<readonly Preset[]>({
  equaliser: [
    {
      name: 'Speech, clear',
      params: {
        lowCutSlope: '18',
        lowCutHz: 90,
        kind1: 'bell',
        hz1: 280,
        db1: -3,
        q1: 1.1,
        kind2: 'bell',
        hz2: 3400,
        db2: 3,
        q2: 0.8,
        kind3: 'high shelf',
        hz3: 9000,
        db3: 1.5,
        q3: 0.7
      }
    },
    {
      name: 'DI, less string noise',
      params: {
        lowCutSlope: '12',
        lowCutHz: 60,
        kind1: 'bell',
        hz1: 2600,
        db1: -3.5,
        q1: 1.6,
        kind2: 'high shelf',
        hz2: 7500,
        db2: -4,
        q2: 0.7
      }
    },
    {
      name: 'Room tone under everything',
      params: { lowCutSlope: '24', lowCutHz: 140, highCutSlope: '12', highCutHz: 6500 }
    },
    {
      name: 'Return, out of the way',
      params: {
        lowCutSlope: '12',
        lowCutHz: 220,
        kind1: 'bell',
        hz1: 1200,
        db1: -2.5,
        q1: 0.8,
        highCutSlope: '12',
        highCutHz: 8000
      }
    },
    {
      name: 'Mains hum at 50 Hz',
      params: {
        kind1: 'notch',
        hz1: 50,
        q1: 20,
        kind2: 'notch',
        hz2: 100,
        q2: 20,
        kind3: 'notch',
        hz3: 150,
        q3: 20,
        kind4: 'notch',
        hz4: 250,
        q4: 20
      }
    }
  ],
  compressor: [
    {
      name: 'Submix, holds together',
      params: { thresholdDb: -18, ratio: 2, kneeDb: 8, attackMs: 30, releaseMs: 180, makeupDb: 1.5 }
    },
    {
      name: 'Speech, even',
      params: {
        thresholdDb: -26,
        ratio: 3.5,
        kneeDb: 6,
        attackMs: 6,
        releaseMs: 140,
        makeupDb: 5,
        detector: 'rms',
        averageMs: 15
      }
    },
    {
      name: 'Drum, more stick',
      params: { thresholdDb: -22, ratio: 5, kneeDb: 3, attackMs: 28, releaseMs: 90, makeupDb: 4 }
    },
    { name: 'Makes way for a voice', params: { thresholdDb: -32, ratio: 3, kneeDb: 10, attackMs: 25, releaseMs: 420 } },
    {
      name: 'Peaks only',
      params: { thresholdDb: -8, ratio: 10, kneeDb: 2, attackMs: 0.5, releaseMs: 60, lookAheadMs: 1 }
    }
  ],
  gate: [
    {
      name: 'Drum, closed between strokes',
      params: {
        thresholdDb: -32,
        hysteresisDb: 6,
        rangeDb: 40,
        attackMs: 0.3,
        holdMs: 60,
        releaseMs: 120,
        lookAheadMs: 1
      }
    },
    {
      name: 'Speech, breaths down',
      params: { thresholdDb: -44, hysteresisDb: 4, rangeDb: 12, attackMs: 5, holdMs: 180, releaseMs: 300 }
    },
    {
      name: 'Chopped by its key',
      params: { thresholdDb: -36, hysteresisDb: 3, rangeDb: 80, attackMs: 1, holdMs: 20, releaseMs: 40 }
    }
  ],
  ducker: [
    {
      name: 'Music under narration',
      params: { thresholdDb: -42, depthDb: 9, attackMs: 40, holdMs: 350, releaseMs: 900 }
    },
    {
      name: 'Reverb out of the words',
      params: { thresholdDb: -38, depthDb: 14, attackMs: 15, holdMs: 120, releaseMs: 350 }
    },
    {
      name: 'Pulse with the heartbeat',
      params: { thresholdDb: -30, depthDb: 18, attackMs: 5, holdMs: 40, releaseMs: 240 }
    }
  ],
  limiter: [
    { name: 'Main, −1 dBTP', params: { ceilingDb: -1, lookAheadMs: 2, releaseMs: 80 } },
    { name: 'Stem, catches strays', params: { ceilingDb: -0.5, lookAheadMs: 4, releaseMs: 200 } },
    { name: 'Loud, 4 dB in', params: { driveDb: 4, ceilingDb: -1, lookAheadMs: 1.5, releaseMs: 50 } }
  ],
  saturation: [
    { name: 'A little warmer', params: { driveDb: 4, bias: 0.1, outputDb: 0.5 } },
    { name: 'Bends peaks of a drum', params: { driveDb: 12, outputDb: 2 } },
    { name: 'Torn', params: { driveDb: 34, bias: 0.3, outputDb: 18 } }
  ],
  spectral: [
    {
      name: 'Pad that follows a rhythm',
      params: { bands: '20', lowHz: 90, highHz: 8000, attackMs: 3, releaseMs: 60, gainDb: 18 }
    },
    {
      name: 'Words out of a drone',
      params: { bands: '32', lowHz: 110, highHz: 9000, attackMs: 2, releaseMs: 25, gainDb: 24 }
    },
    {
      name: 'Heartbeat an octave up',
      params: { bands: '12', lowHz: 40, highHz: 1200, attackMs: 4, releaseMs: 120, shift: 12, gainDb: 30 }
    },
    {
      name: 'Stretched apart',
      params: { bands: '16', lowHz: 100, highHz: 6000, releaseMs: 200, stretch: 150, gainDb: 22 }
    }
  ],
  delay: [
    { name: 'Dotted eighths, dark', params: { note: '1/8 dotted', feedback: 38, lowCutHz: 180, highCutHz: 3200 } },
    { name: 'Side to side', params: { note: '1/4', feedback: 45, cross: 100, highCutHz: 6000 } },
    { name: 'Close double', params: { timeMs: 28, feedback: 0, lowCutHz: 120, highCutHz: 9000 } },
    { name: 'Nearly endless', params: { note: '1/2', feedback: 88, cross: 20, lowCutHz: 300, highCutHz: 2400 } }
  ],
  reverb: [
    { name: 'Dome hall', params: { decayS: 3.6, preDelayMs: 35, size: 100, highDecay: 40 } },
    { name: 'Short room', params: { decayS: 0.6, preDelayMs: 4, size: 35, lowDecay: 80 } },
    {
      name: 'Bright chamber',
      params: { decayS: 1.6, preDelayMs: 12, size: 60, highDecay: 80, highHz: 7000, diffusion: 70 }
    },
    { name: 'Over the lake at night', params: { decayS: 8, preDelayMs: 80, size: 100, lowDecay: 140, highDecay: 22 } }
  ],
  convolution: [
    { name: 'Dome, from far away', params: { response: 'dome', preDelayMs: 40, highCutHz: 7000 } },
    { name: 'Chapel, cut short', params: { response: 'chapel', endS: 1.2 } },
    { name: 'Studio room', params: { response: 'studio', lowCutHz: 120 } },
    { name: 'Steel sheet on drums', params: { response: 'sheet', endS: 1, lowCutHz: 250 } }
  ],
  tremolo: [
    { name: 'Slow breath', params: { hz: 0.25, depth: 40 } },
    { name: 'Amp', params: { hz: 5.2, depth: 55, shape: 'triangle' } },
    { name: 'From ear to ear', params: { hz: 0.8, depth: 70, apart: 50 } }
  ],
  width: [
    { name: 'Mono', params: { width: 0 } },
    { name: 'Narrower', params: { width: 60 } },
    { name: 'Wider', params: { width: 140 } }
  ]
})
