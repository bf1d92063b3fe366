/** What lies on the bench. Each kind of body has its type here and its behaviour in one definition below `core/kinds`. Lengths in mm. */
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Vec3 } from '@/core/math/vec'
import type { Cage } from '@/core/subdivision/subdivide'
import type { Drawing, DrawingPlane } from '@/core/outline/drawing'

/** Anything on the bench; what it can do is asked of its kind (`core/kinds/registry`). */
export interface Body {
  readonly kind: string
}

/** Where each triangle came from: an index into `names`, and the face (exact face or triangle number) on that source. */
export interface SourceTags {
  readonly names: readonly string[]
  readonly source: Uint32Array
  readonly face: Uint32Array
  /** For each name, the exact faces that its triangles came from by number, where that body was exact. */
  readonly exact?: readonly (readonly FacePart[] | null)[]
}

export interface MeshBody extends Body {
  readonly kind: 'mesh'
  readonly mesh: TriMesh
  readonly tags?: SourceTags
  /** Its colour in the file it came from, as sRGB "#rrggbb". */
  readonly colour?: string
}

/** The same body in a colour; unchanged where there is none, or where it has one of its own. */
export const inColour = <B extends Body>(body: B, colour: string | undefined): B =>
  !colour || !canHaveColour(body) || body.colour ? body : { ...body, colour }

const canHaveColour = (body: Body): body is MeshBody | ExactBody =>
  body.kind === 'mesh' || body.kind === 'solid' || body.kind === 'sheet'
export const colourOf = (body: Body | undefined): string | undefined =>
  body && canHaveColour(body) ? body.colour : undefined

/** A body of triangles. */
export const meshBody = (mesh: TriMesh, tags?: SourceTags): MeshBody =>
  tags ? { kind: 'mesh', mesh, tags } : { kind: 'mesh', mesh }

export const isMesh = (body: Body): body is MeshBody => body.kind === 'mesh'

/** A mesh of quads only, open or closed. */
export interface NetBody extends Body {
  readonly kind: 'net'
  readonly net: QuadMesh
}

/** The control net of a subdivision surface, with its creases and corners; what is seen and met of it is the limit surface. */
export interface CageBody extends Body {
  readonly kind: 'cage'
  readonly cage: Cage
}

export const cageBody = (cage: Cage): CageBody => ({ kind: 'cage', cage })
export const isCage = (body: Body): body is CageBody => body.kind === 'cage'
export const netBody = (net: QuadMesh): NetBody => ({ kind: 'net', net })
export const isNet = (body: Body): body is NetBody => body.kind === 'net'

/** The facets of an exact body, for looking and picking: positions and normals per corner, the exact face of each triangle, edge lines. */
export interface SolidDisplay {
  readonly positions: Float32Array
  readonly normals: Float32Array
  readonly triangles: Uint32Array
  readonly face: Uint32Array
  /** Exact edges as point pairs: x y z, x y z, ... */
  readonly lines: Float32Array
  /** The exact edge of each point pair. */
  readonly edge: Uint32Array
}

export const surfaceKinds = ['plane', 'cylinder', 'cone', 'sphere', 'torus', 'bspline', 'other'] as const
export type SurfaceKind = (typeof surfaceKinds)[number]
export const curveKinds = ['line', 'circle', 'ellipse', 'bspline', 'other'] as const
export type CurveKind = (typeof curveKinds)[number]

export interface SolidFacts {
  /** Separate solids in the body. */
  readonly pieces: number
  readonly faces: number
  readonly edges: number
  readonly valid: boolean
  readonly closed: boolean
  readonly faceKinds: Readonly<Record<SurfaceKind, number>>
  readonly size: readonly [number, number, number]
  readonly min: readonly [number, number, number]
  readonly volume: number
  readonly area: number
  /** Centre of mass of a closed body. */
  readonly centre?: readonly [number, number, number]
}

/** What is known of one exact face: its lasting name, and its signature. */
export interface FacePart {
  readonly name: string
  readonly shape: SurfaceKind
  /** Middle of its area. */
  readonly at: Vec3
  readonly area: number
  /** Outward normal of a plane, axis of a round face (unit). */
  readonly axis?: Vec3
  /** A place on the axis of a round face: of a sphere and a ring their middle. */
  readonly centre?: Vec3
  /** Of a cylinder, sphere or ring (its circle), mm. */
  readonly radius?: number
}

/** What is known of one exact edge. */
export interface EdgePart {
  readonly name: string
  readonly shape: CurveKind
  /** The point half-way along it. */
  readonly at: Vec3
  readonly length: number
  /** Numbers of the faces it borders: one for a seam or a free border, else two. */
  readonly faces: readonly number[]
  readonly radius?: number
  /** Direction of a line, axis of a circle (unit). */
  readonly axis?: Vec3
  /** Centre of a circle. */
  readonly centre?: Vec3
}

/** A closed exact body (`solid`) or an open exact surface (`sheet`). */
export interface ExactBody extends Body {
  readonly kind: 'solid' | 'sheet'
  /** Exact shape in the kernel's open text form. */
  readonly brep: string
  readonly facts: SolidFacts
  readonly display: SolidDisplay
  /** Chord tolerance of `display`, mm. */
  readonly tolerance: number
  /** One entry for each face and edge, in the order of the shape's text. */
  readonly parts: { readonly faces: readonly FacePart[]; readonly edges: readonly EdgePart[] }
  /** What the file it came from calls it. */
  readonly label?: string
  /** Its colour in the file it came from, as sRGB "#rrggbb". */
  readonly colour?: string
}

/** A row of places in an outline's plane that a section or an import left to trace: u v, u v, ..., mm. */
export interface ReferenceRow {
  readonly places: Float64Array
  readonly closed: boolean
}

/** A drawing in a plane, with the reference curves it was or can be traced from. */
export interface OutlineBody extends Body {
  readonly kind: 'outline'
  readonly plane: DrawingPlane
  readonly drawing: Drawing
  readonly reference: readonly ReferenceRow[]
}

export const isOutline = (body: Body): body is OutlineBody => body.kind === 'outline'

/** A plane, axis or point to refer to. Drawn lightly; it has no skin and no volume. */
export interface DatumBody extends Body {
  readonly kind: 'datum'
  readonly datum: 'plane' | 'axis' | 'point'
  readonly at: Vec3
  /** Unit normal of a plane, unit direction of an axis; of a point z. */
  readonly direction: Vec3
  /** How large it is drawn: side of a plane, length of an axis, width of a point's cross, mm. */
  readonly drawn: number
}

export const isDatum = (body: Body): body is DatumBody => body.kind === 'datum'
