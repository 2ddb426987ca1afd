// A request that cannot be carried out, with what a person needs to know. Every layer passes it on unchanged.

export type RefusalKind =
  | 'circle' | 'layout' | 'portTaken' | 'notFound' | 'ambiguous' | 'badArguments' | 'badFile' | 'badPackage'
  | 'brokenMedium' | 'idTaken' | 'standsOn' | 'noSession' | 'ahead' | 'stale' | 'unitOff' | 'tooLarge' | 'notMeasured' | 'wrongRate'
  | 'arrived' | 'silent' | 'noRoom'

export class Refusal extends Error {
  constructor(
    readonly kind: RefusalKind,
    message: string,
    /** Ids of the rows concerned. */
    readonly about: string[] = [],
    /** What was kept, as a sentence. */
    readonly kept = 'Nothing was changed.'
  ) {
    super(message)
    this.name = 'Refusal'
  }

  toJSON() { return { error: this.kind, message: this.message, about: this.about, kept: this.kept } }
}
