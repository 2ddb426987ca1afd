// The rows a session consists of: one Zod schema a table. Units are in the names. `null` for a level is −∞ dB.
// Every field but ids, names and kinds has a default, so that a session can be written by hand.
import { z } from 'zod'
import { ID_PATTERN, ID_RULE, LONGEST_ID } from './ids'

const id = z.string().max(LONGEST_ID, ID_RULE).regex(ID_PATTERN, ID_RULE)
const name = z.string().min(1, 'a name must not be empty').max(300, 'a name has at most 300 characters')
const level = z.number().min(-150).max(48).nullable()
/** Nothing lies or lasts further than a day at the highest rate. Frames. */
export const MOST_FRAMES = 24 * 3600 * 384000
const frame = z.number().int().min(-MOST_FRAMES).max(MOST_FRAMES)
const order = z.string().max(200).default('a0')
/** Whole numbers as the database keeps them. */
const MOST_INT = 2 ** 31 - 1
const rate = z.number().int().min(1).max(MOST_INT)

/** Parameters of a processor or unit: plain values, checked by the table that owns them. */
export const Params = z
  .record(z.string().max(80), z.union([z.number(), z.string().max(300), z.boolean()]))
  .refine(p => Object.keys(p).length <= 300, 'there are at most 300 settings')
export type Params = z.infer<typeof Params>

/**
 * Words that, in a name, speak for a family. The longest run of words decides; one with ? after it answers only where
 * no other does, one with ! before all others. A family may be a part of another: the kick within the drums.
 */
export const FamilyRule = z.object({
  family: z.string().min(1).max(60),
  colour: z.number().int().min(0).max(11),
  words: z.array(z.string().min(1).max(60)).max(300),
  within: z.string().min(1).max(60).optional()
})
export type FamilyRule = z.infer<typeof FamilyRule>

/**
 * What two loudspeakers play of what is heard: as it is, both the sum, both one side, exchanged, both the difference.
 */
export const HEARD_AS = ['stereo', 'mono', 'left', 'right', 'swapped', 'side'] as const
export type HeardAs = (typeof HEARD_AS)[number]

export const SessionRow = z.object({
  id: z.literal('session').default('session'),
  name,
  sampleRate: z.number().int().min(8000).max(384000).default(48000),
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31)
    .default(1),
  rig: id.nullable().default(null),
  heardChannel: id.nullable().default(null),
  heardLevelDb: level.default(0),
  heardAs: z.enum(HEARD_AS).default('stereo'),
  /** The table by which families are guessed from names; null for the built-in one. */
  families: z.array(FamilyRule).max(100).nullable().default(null),
  /** Beats (quarters) from which a tempo holds. */
  tempo: z
    .array(z.tuple([z.number().min(0).max(1e6), z.number().min(20).max(400)]))
    .min(1)
    .max(2000)
    .default([[0, 120]])
    .refine(
      t => t[0]?.[0] === 0 && t.every(([beat], i) => (t[i - 1]?.[0] ?? -1) < beat),
      'a tempo map begins at beat 0 and its beats rise'
    ),
  beatsPerBar: z.number().int().min(1).max(32).default(4)
})

/** What is known of a piece of audio; the samples live in media storage under the same id. */
export const MediumRow = z.object({
  id,
  name,
  sha256: z.string().max(64).default(''),
  file: z.string().max(400).default(''),
  legs: z.number().int().min(1).max(64).default(1),
  frames: z.number().int().min(0).max(MOST_FRAMES).default(0),
  sampleRate: rate.default(48000),
  originalRate: rate.nullable().default(null),
  peakDb: z.number().nullable().default(null),
  loudnessLufs: z.number().nullable().default(null),
  /** What the file calls itself. */ title: z.string().max(300).default(''),
  /** When it was recorded, by the file: frames since midnight, at `sampleRate`. */
  timeReference: frame.min(0).nullable().default(null)
})

const legs = z.array(z.number().int().min(0).max(63)).max(64)

export const ROLES = ['track', 'submix', 'return', 'stem', 'main', 'output'] as const
export const ChannelRow = z
  .object({
    id,
    name,
    kind: z.enum(['track', 'bus']),
    role: z.enum(ROLES).optional(),
    layout: z.array(z.string().min(1).max(8)).min(1).max(24).default(['L', 'R']),
    family: z.string().max(60).default(''),
    familyGuessed: z.boolean().default(false),
    colour: z.number().int().min(0).max(11).default(0),
    order,
    trimDb: level.default(0),
    flippedLegs: legs.default([]),
    mutedLegs: legs.default([]),
    lowCutHz: z.number().min(10).max(2000).nullable().default(null),
    highCutHz: z.number().min(200).max(40000).nullable().default(null),
    /** What its 0 dBFS was where it was recorded, in dBu; null where nobody knows. */
    sourceDbu: z.number().min(-60).max(40).nullable().default(null),
    levelDb: level.default(0),
    pan: z.number().min(-1).max(1).default(0),
    muted: z.boolean().default(false),
    soloed: z.boolean().default(false),
    safe: z.boolean().default(false),
    parked: z.boolean().default(false),
    listen: z.enum(['print', 'feed', 'follow']).default('print'),
    ready: z.boolean().default(false),
    /** Which of its takes is heard; null: none of them. */
    take: id.nullable().default(null),
    /** What it is compared with: the processed sound that was recorded beside the DI, for one. */
    reference: id.nullable().default(null)
  })
  .transform(row => ({ ...row, role: row.role ?? (row.kind === 'track' ? ('track' as const) : ('submix' as const)) }))

/** So well a take went, as whoever listens to it says. */
export const RATINGS = ['unrated', 'spare', 'good', 'best'] as const

/**
 * One of several recordings of a track, of which at most one is heard. What lies on a track in no take is always heard.
 */
export const TakeRow = z.object({ id, channel: id, name, order, rating: z.enum(RATINGS).default('unrated') })

export const ClipRow = z.object({
  id,
  channel: id,
  medium: id,
  name: z.string().max(300).default(''),
  startFrame: frame.default(0),
  offsetFrames: frame.min(0).default(0),
  frames: frame.min(1).nullable().default(null),
  gainDb: level.default(0),
  fadeInFrames: frame.min(0).default(0),
  fadeOutFrames: frame.min(0).default(0),
  legMap: z.array(z.number().int().min(-1).max(63)).max(64).nullable().default(null),
  take: id.nullable().default(null)
})

export const TAPS = ['input', 'pre', 'post'] as const
export type Tap = (typeof TAPS)[number]
const FeedFields = z.object({
  id,
  kind: z.enum(['main', 'send', 'key', 'port', 'input']),
  from: id.nullable().default(null),
  to: id.nullable().default(null),
  slot: id.nullable().default(null),
  ports: z.array(id).max(64).default([]),
  tap: z.enum(TAPS).default('post'),
  levelDb: level.default(0),
  pan: z.number().min(-1).max(1).nullable().default(null),
  muted: z.boolean().default(false),
  withMute: z.boolean().default(false)
})
type FeedEnds =
  | { kind: 'main'; from: string; to: string; slot: null }
  | { kind: 'send'; from: string; to: string; slot: null }
  | { kind: 'key'; from: string; to: null; slot: string }
  | { kind: 'port'; from: string; to: null; slot: null }
  | { kind: 'input'; from: null; to: string; slot: null }
/** The schema takes rows with other ends too, so that invariants/feeds.ts can say what is wrong with them, or mend. */
export const FeedRow = FeedFields.transform(row => row as Omit<typeof row, keyof FeedEnds> & FeedEnds)

export const SlotRow = z.object({
  id,
  channel: id,
  order,
  afterFader: z.boolean().default(false),
  state: z.enum(['on', 'bypassed', 'off']).default('on'),
  processor: z.string().min(1).max(80),
  params: Params.default({}),
  mix: z.number().min(0).max(1).default(1),
  loop: id.nullable().default(null),
  keyLowCutHz: z.number().min(10).max(20000).nullable().default(null),
  keyHighCutHz: z.number().min(20).max(40000).nullable().default(null),
  kept: z.unknown().default(null)
})

/** `entry` names what it was copied from in the rig library of the installation. */
export const RigRow = z.object({ id, name, order, entry: id.nullable().default(null) })

export const InterfaceRow = z.object({
  id,
  rig: id,
  name,
  sampleRates: z.array(rate).max(40).default([44100, 48000, 88200, 96000]),
  reportedLatencySamples: z.number().min(0).max(20000).default(128),
  trueLatencySamples: z.number().min(0).max(20000).default(128),
  noiseDbfs: z.number().min(-200).max(-20).nullable().default(-115),
  dcCornerHz: z.number().min(0.01).max(100).nullable().default(1.6),
  referenceDbu: z.number().min(-20).max(30).default(18),
  /** A free-running clock drifts against the session's by so many parts per million; a locked one does not. */
  clock: z.enum(['locked', 'free']).default('locked'),
  driftPpm: z.number().min(-200).max(200).default(0)
})

export const PortRow = z.object({
  id,
  interface: id,
  name,
  order,
  direction: z.enum(['out', 'in']),
  signal: z.enum(['analog', 'digital']).default('analog'),
  referenceDbu: z.number().min(-20).max(30).nullable().default(null),
  /** Of an output: what makes it as loud as its neighbours, before the converter. */
  trimDb: z.number().min(-24).max(24).default(0)
})

export const MOST_PHOTO_BYTES = 512 * 1024
/** A small picture of a unit, by the hash of its bytes. */
export const Photo = z.object({ sha256: z.string().regex(/^[0-9a-f]{64}$/), about: z.string().max(300).default('') })
export type Photo = z.output<typeof Photo>
export const MOST_PHOTOS = 12

export const MOST_PRESETS = 24
export const Preset = z.object({ name: z.string().min(1).max(80), settings: Params })
export type Preset = z.output<typeof Preset>

export const UnitRow = z.object({
  id,
  rig: id,
  name,
  model: z.string().min(1).max(80),
  order,
  powered: z.boolean().default(true),
  settings: Params.default({}),
  /** Settings that were kept under a name. */
  presets: z.array(Preset).max(MOST_PRESETS).default([]),
  /** Switches as they stood before they were turned for something that ends: they are asked back. */
  putBack: Params.default({}),
  /** Of a player: the medium that it plays. */
  plays: id.nullable().default(null),
  /** Some turn the polarity of what passes, by their stages or by how a jack is wired. */
  inverts: z.boolean().default(false),
  /** How it was set and found, for whoever sets it again. */
  notes: z.string().max(4000).default(''),
  photos: z.array(Photo).max(MOST_PHOTOS).default([])
})

/**
 * From a port out or a unit's output to a port in or a unit's input; jacks count from 0. A normalled one is wired
 * behind the patch bay and carries until something is plugged into the jack that it ends in (half), or also into the
 * one that it leaves (full). One that is inside is a route of the interface's own matrix, from any of its ports to
 * another.
 */
const CableFields = z.object({
  id,
  rig: id,
  fromPort: id.nullable().default(null),
  fromUnit: id.nullable().default(null),
  fromJack: z.number().int().min(0).max(1000).default(0),
  toPort: id.nullable().default(null),
  toUnit: id.nullable().default(null),
  toJack: z.number().int().min(0).max(1000).default(0),
  /** Hot and cold are swapped at one end. */
  inverts: z.boolean().default(false),
  normalled: z.enum(['half', 'full']).nullable().default(null),
  inside: z.boolean().default(false),
  /** Of a route inside. */
  levelDb: level.default(0)
})
type CableEnds = ({ fromPort: string; fromUnit: null } | { fromPort: null; fromUnit: string }) &
  ({ toPort: string; toUnit: null } | { toPort: null; toUnit: string })
/** As with feeds: invariants/cables.ts says what is wrong with other ends. */
export const CableRow = CableFields.transform(row => row as Omit<typeof row, keyof CableEnds> & CableEnds)

/** One way of a loop by itself: from one port out to one port in. */
export const PingSide = z.object({
  name: z.string().max(640),
  delaySamples: z.number(),
  inverted: z.boolean(),
  /** Left out, it is certain. */
  polarityIsClear: z.boolean().optional(),
  /** Null where nothing came back this way. */
  gainDb: z.number().nullable(),
  /** At the centres of measure/centres.ts for the ping's rate. */
  responseDb: z.array(z.number()).max(40)
})
export type PingSide = z.infer<typeof PingSide>

/** What came later than a session that is still about is optional. */
export const Ping = z.object({
  delaySamples: z.number(),
  inverted: z.boolean(),
  gainDb: z.number(),
  noiseDbfs: z.number().nullable(),
  confidence: z.number(),
  sampleRate: z.number(),
  wiring: z.string().max(20000),
  measuredAt: z.string().max(60),
  polarityIsClear: z.boolean().optional(),
  levelDb: z.number().optional(),
  distortionDb: z.number().optional(),
  /** What the driver said then: it follows the size of its buffer. */
  reportedSamples: z.number().optional(),
  sides: z.array(PingSide).max(64).optional()
})
/** Pings of a loop that are kept beside the last one. */
export const MOST_FORMER_PINGS = 24
export type Ping = z.infer<typeof Ping>

export const LoopRow = z.object({
  id,
  rig: id,
  name,
  order,
  outPorts: z.array(id).max(64).default([]),
  inPorts: z.array(id).max(64).default([]),
  sendDb: level.default(0),
  returnDb: level.default(0),
  inverted: z.boolean().default(false),
  ping: Ping.nullable().default(null),
  /** Earlier pings, the newest first. */
  former: z.array(Ping).max(MOST_FORMER_PINGS).default([]),
  applied: z.boolean().default(false),
  /** Off: the return is left as late as it comes, and is not aligned with anything. */
  compensated: z.boolean().default(true)
})

/** A way out and back that a print was sent along alone, whatever the session itself sends there. */
export const Through = z.object({
  /** Where the signal leaves its source. */
  tap: z.enum(TAPS).default('input'),
  levelDb: z.number().min(-120).max(24).default(0),
  outPorts: z.array(id).min(1).max(64),
  inPorts: z.array(id).min(1).max(2),
  /** Settings of units while it runs, where they are not those of the session. */
  settings: z.record(id, Params).default({}),
  /** Units in whose place another one stands while it runs. */
  instead: z.record(id, id).default({})
})
export type Through = z.output<typeof Through>

/** A print that was rendered again and compared, by itself or with others whose sum it is part of. */
export const Proof = z.object({
  of: z.enum(['live', 'sum']),
  at: z.string().max(60),
  /** What is left, in dBFS RMS, and what it is measured against; null: nothing. */
  leftDb: z.number().nullable(),
  signalDb: z.number().nullable(),
  /** The prints of a sum; of a comparison with the live path only itself. */
  prints: z.array(id).max(1000),
  /** What is to blame where something is left, in sentences. */
  culprits: z.array(z.string().max(1000)).max(100).default([])
})
export type Proof = z.output<typeof Proof>
export const MOST_PROOFS = 8

/** What goes wrong in a pass: a converter clips, the way is cut, sound breaks off or jumps. */
export const FAULTS = ['clipped', 'lost', 'gap', 'click'] as const
/** A place of a print where its pass went wrong. */
export const Fault = z.object({
  kind: z.enum(FAULTS),
  /** Frames of source time. */
  from: frame,
  frames: frame.min(1),
  /** Where: the port that clipped, what was switched off or pulled. */
  what: z.string().max(300).default(''),
  /** How far over full scale it was. */
  overDb: z.number().nullable().default(null)
})
export type Fault = z.output<typeof Fault>
export const MOST_FAULTS = 200

/** A printed track: what it was made from, and how it compared with the live path. */
export const PrintRow = z.object({
  id,
  channel: id,
  /** Null where it was removed: what is known of it stays. */
  source: id.nullable(),
  sourceName: z.string().max(300).default(''),
  /** Printed with the share of this channel’s tracks alone; null: with everything. */
  share: id.nullable().default(null),
  tap: z.enum(TAPS),
  clip: id.nullable().default(null),
  takesOver: z.boolean().default(false),
  through: Through.nullable().default(null),
  fingerprint: z.string().max(200).default(''),
  parts: z.record(z.string(), z.string()).default({}),
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31)
    .default(1),
  startFrame: frame.default(0),
  frames: frame.default(0),
  latencySamples: z.number().int().min(0).max(MOST_INT).default(0),
  residualDb: z.number().nullable().default(null),
  verified: z.enum(['identical', 'differs', 'not yet']).default('not yet'),
  notes: z.array(z.string().max(1000)).max(1000).default([]),
  printedAt: z.string().max(60).default(''),
  /** The newest first. */
  proofs: z.array(Proof).max(MOST_PROOFS).default([]),
  faults: z.array(Fault).max(MOST_FAULTS).default([])
})

/** Strips whose faders, mutes or solos move together without any audio flowing through a bus. */
export const LinkRow = z.object({
  id,
  name,
  order,
  members: z.array(id).max(2000).default([]),
  levels: z.boolean().default(true),
  mutes: z.boolean().default(true),
  solos: z.boolean().default(true)
})

/** Frame of source time and the value there; null is −∞ dB. Two points at one frame make a step. */
export const EnvelopePoint = z.tuple([frame.min(0), z.number().min(-1e6).max(1e6).nullable()])
export type EnvelopePoint = z.infer<typeof EnvelopePoint>
export const MOST_POINTS = 20000

/**
 * A value that moves along the session's time: of a channel, of a feed or of a slot. See movement/targets.ts for which.
 */
export const EnvelopeRow = z
  .object({
    id,
    channel: id.nullable().default(null),
    feed: id.nullable().default(null),
    slot: id.nullable().default(null),
    field: z.string().min(1).max(40),
    on: z.boolean().default(true),
    points: z
      .array(EnvelopePoint)
      .max(MOST_POINTS, `an envelope has at most ${MOST_POINTS} points`)
      .default([])
      .refine(
        points => points.every(([frame], i) => (points[i - 1]?.[0] ?? 0) <= frame),
        'the points of an envelope must be in order of time'
      )
  })
  .refine(
    e => [e.channel, e.feed, e.slot].filter(x => x !== null).length === 1,
    'an envelope moves one of a channel, a feed or a slot'
  )

/** Beat, length in beats, key 0 … 127, velocity 1 … 127. */
export const Note = z.tuple([
  z.number().min(0).max(1e5),
  z.number().min(0.001).max(1e5),
  z.number().int().min(0).max(127),
  z.number().int().min(1).max(127)
])
export type Note = z.infer<typeof Note>

/** Notes on a track, played by a voice: a passage of a file, a pattern of steps, or a held chord. */
export const PhraseRow = z.object({
  id,
  channel: id,
  name: z.string().max(300).default(''),
  as: z.enum(['notes', 'steps', 'chord']).default('notes'),
  voice: z.enum(['pad', 'pluck', 'drum']).default('pad'),
  levelDb: level.default(0),
  startBeat: z.number().min(0).max(1e5).default(0),
  lengthBeats: z.number().min(0.0625).max(1e5).default(4),
  repeats: z.number().int().min(1).max(4096).default(1),
  stepBeats: z.number().min(0.0625).max(4).default(0.25),
  notes: z.array(Note).max(20000, 'a phrase has at most 20000 notes').default([])
})

/** The tables in an order in which rows may be inserted: what is referred to comes first. */
export const TABLES = {
  session: SessionRow,
  medium: MediumRow,
  rig: RigRow,
  interface: InterfaceRow,
  port: PortRow,
  unit: UnitRow,
  cable: CableRow,
  channel: ChannelRow,
  take: TakeRow,
  clip: ClipRow,
  loop: LoopRow,
  slot: SlotRow,
  feed: FeedRow,
  print: PrintRow,
  link: LinkRow,
  envelope: EnvelopeRow,
  phrase: PhraseRow
} as const

export type TableName = keyof typeof TABLES
/** Fields of a table, in order, also of one whose schema ends in a transform. */
export function shapeOf(table: TableName): Record<string, z.ZodType> {
  const schema = TABLES[table] as unknown as {
    shape?: Record<string, z.ZodType>
    in?: { shape: Record<string, z.ZodType> }
  }
  return schema.shape ?? schema.in!.shape
}

export const TABLE_NAMES = Object.keys(TABLES) as TableName[]
export type Row<T extends TableName> = z.output<(typeof TABLES)[T]>
export type Channel = Row<'channel'>
export type Feed = Row<'feed'>
export type AudioFeed = Extract<Feed, { kind: 'main' | 'send' }>
export type KeyFeed = Extract<Feed, { kind: 'key' }>
export type PortFeed = Extract<Feed, { kind: 'port' }>
export type SendFeed = Extract<Feed, { kind: 'send' }>
export type InputFeed = Extract<Feed, { kind: 'input' }>
export type Slot = Row<'slot'>
export type Loop = Row<'loop'>
export type Phrase = Row<'phrase'>
export type Envelope = Row<'envelope'>
export type Clip = Row<'clip'>
export type Take = Row<'take'>
export type Print = Row<'print'>
/** One whose source is there still. */
export type SourcedPrint = Print & { source: string }
export type Unit = Row<'unit'>
export type Cable = Row<'cable'>
