/** What lies on the bench: bodies, their kinds and their parts. Lengths in mm. */
import type { TriMesh } from '@/core/mesh/tri-mesh'

/** Where each triangle came from: an index into `names`, and the face (exact face or triangle number) on that source. */
export interface SourceTags {
  readonly names: readonly string[]
  readonly source: Uint32Array
  readonly face: Uint32Array
}

export interface MeshBody {
  readonly kind: 'mesh'
  readonly mesh: TriMesh
  readonly tags?: SourceTags
}

/** The facets of an exact body, for looking and picking: positions and normals per corner, the exact face of each triangle, edge lines. */
export interface SolidDisplay {
  readonly positions: Float32Array
  readonly normals: Float32Array
  readonly triangles: Uint32Array
  readonly face: Uint32Array
  /** Exact edges as point pairs: x y z, x y z, ... */
  readonly lines: Float32Array
}

export interface SolidFacts {
  /** Separate solids in the body. */
  readonly pieces: number
  readonly faces: number
  readonly edges: number
  readonly valid: boolean
  readonly closed: boolean
  readonly faceKinds: Readonly<Record<'plane' | 'cylinder' | 'cone' | 'sphere' | 'torus' | 'bspline' | 'other', number>>
  readonly size: readonly [number, number, number]
  readonly min: readonly [number, number, number]
  readonly volume: number
  readonly area: number
}

export interface SolidBody {
  readonly kind: 'solid' | 'sheet'
  /** Exact shape in the kernel's open text form. */
  readonly brep: string
  readonly facts: SolidFacts
  readonly display: SolidDisplay
  /** Chord tolerance of `display`, mm. */
  readonly tolerance: number
}

export type Body = MeshBody | SolidBody
export type BodyKind = Body['kind']

export const isMesh = (body: Body): body is MeshBody => body.kind === 'mesh'

/** The triangles of any body: the mesh itself, or the facets an exact body is shown by. */
export const skinOfBody = (body: Body): TriMesh =>
  isMesh(body) ? body.mesh : { positions: body.display.positions, triangles: body.display.triangles }
