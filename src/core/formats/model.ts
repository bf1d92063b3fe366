/** What every reader gives and every writer takes. */
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import type { Unit } from './units'

/** One named body of a file, in the file's own unit. */
export interface FilePart {
  readonly name: string
  readonly mesh: TriMesh
  /** As sRGB "#rrggbb". */
  readonly colour?: string
  /** Quads of a net, over the mesh's points, for formats that can hold them. */
  readonly quads?: Uint32Array
}

export interface FileModel {
  /** Name of the format it was read by. */
  readonly format: string
  readonly parts: FilePart[]
  /** Unit the file states; STL, OBJ, PLY and OFF state none. */
  readonly unit?: Unit
  /** Things a maker should know: what was skipped or repaired while reading. */
  readonly notes: string[]
}

/** A damaged file: what is wrong, and at which byte, line or entry. */
export const damaged = (what: string, where: string, tryThis?: string): StepError =>
  new StepError('damaged-file', `The file is damaged: ${what} (${where}).`, tryThis ? { tryThis } : {})
