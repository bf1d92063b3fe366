/** The Open CASCADE kernel, loaded once a thread; and how its memory stands, since it gives none back. */
import loadKernel, { type OpenCascadeInstance } from 'replicad-opencascadejs'

export type Kernel = OpenCascadeInstance

let loading: Promise<Kernel> | null = null
let loaded: Kernel | null = null
let spoilt = false

/** The kernel (about 0.7 s the first time). */
export function exactKernel(): Promise<Kernel> {
  loading ??= loadKernel({ print: () => {}, printErr: () => {} }).then((oc) => (loaded = oc))
  return loading
}

/** Lets go of an instance that trapped or ran out of memory: nothing it does is to be trusted again. */
export function discardKernel(): void {
  loading = null
  loaded = null
  spoilt = true
}

/** Bytes of this thread's kernel, and whether one had to be discarded: a thread that reads too much here is replaced. */
export const kernelMemory = (): { bytes: number; spoilt: boolean } => ({
  bytes: loaded?.wasmMemory.buffer.byteLength ?? 0,
  spoilt,
})
