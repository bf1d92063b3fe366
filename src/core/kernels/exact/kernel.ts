/** The Open CASCADE kernel, loaded once a thread; and how its memory stands, since it gives none back. */
import loadKernel, { type OpenCascadeInstance } from 'replicad-opencascadejs'
import { spoil } from '../trap'

export type Kernel = OpenCascadeInstance

let loading: Promise<Kernel> | null = null
let loaded: Kernel | null = null

/** The kernel (about 0.7 s the first time). */
export function exactKernel(): Promise<Kernel> {
  loading ??= loadKernel({ print: () => {}, printErr: () => {} }).then(
    (oc) => (loaded = oc),
    (error: unknown) => {
      loading = null // its file may come at the next try
      throw error
    },
  )
  return loading
}

/** Lets go of an instance that trapped or ran out of memory: nothing it does is to be trusted again. */
export function discardKernel(): void {
  loading = null
  loaded = null
  spoil()
}

/** Bytes this thread's kernel holds. */
export const exactBytes = (): number => loaded?.wasmMemory.buffer.byteLength ?? 0
