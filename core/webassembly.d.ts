// The part of WebAssembly that core uses; every host has it, but it is not in the ECMAScript library.
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>)
  }
  class Memory {
    constructor(size: { initial: number; maximum: number })
    readonly buffer: ArrayBuffer
  }
  class Instance {
    constructor(module: Module, imports: object)
    readonly exports: Record<string, unknown>
  }
}
