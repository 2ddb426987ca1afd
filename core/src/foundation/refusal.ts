// A request that cannot be carried out, with what a person needs to know. Every layer passes it on unchanged.

export type RefusalKind =
  | 'circle'
  | 'layout'
  | 'portTaken'
  | 'notFound'
  | 'ambiguous'
  | 'badArguments'
  | 'badFile'
  | 'badPackage'
  | 'brokenMedium'
  | 'idTaken'
  | 'standsOn'
  | 'noSession'
  | 'ahead'
  | 'stale'
  | 'unitOff'
  | 'tooLarge'
  | 'notMeasured'
  | 'wrongRate'
  | 'arrived'
  | 'silent'
  | 'noRoom'

const MOST_LETTERS = 600

/** A sentence in one line, whatever a file or a name put into it. */
const plain = (text: string) => {
  // eslint-disable-next-line no-control-regex
  const line = text.replace(/[\u0000-\u001f\u007f\u2028-\u202e]+/g, ' ').trim()
  return line.length > MOST_LETTERS ? `${line.slice(0, MOST_LETTERS - 1)}…` : line
}

export class Refusal extends Error {
  constructor(
    readonly kind: RefusalKind,
    message: string,
    /** Ids of the rows concerned. */
    readonly about: string[] = [],
    /** What was kept, as a sentence. */
    readonly kept = 'Nothing was changed.'
  ) {
    super(plain(message))
    this.name = 'Refusal'
  }

  toJSON() {
    return { error: this.kind, message: this.message, about: this.about, kept: this.kept }
  }
}
