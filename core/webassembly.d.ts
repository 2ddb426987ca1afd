// The part of WebAssembly that core uses; every host has it, but it is not in the ECMAScript library.
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>)
  }
  class Memory {
    constructor(size: { initial: number; maximum: number; shared: true })
    readonly buffer: SharedArrayBuffer
  }
  class Instance {
    constructor(module: Module, imports: object)
    readonly exports: Record<string, unknown>
  }
}
