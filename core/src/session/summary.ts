/** What the list of sessions says of each. */
export interface SessionSummary {
  id: string
  name: string
  revision: number
  tracks: number
  buses: number
  /** To the end of the last clip. */ frames: number
  sampleRate: number
  /** Of its audio, each file once. */ bytes: number
  updatedAt: string
}

/** What was removed from the installation and can be brought back. */
export interface Removed {
  kind: 'session' | 'template' | 'rig'
  id: string
  name: string
  /** ISO 8601. */ removedAt: string
}

/** What the list of the rig library tells of each. */
export interface RigSummary {
  id: string
  name: string
  units: string[]
  outs: number
  ins: number
  /** ISO 8601. */ changedAt: string
}
