/** A kind of body: one definition from which storing, lists, drawing, placing, picking, booleans and mesh files follow. */
import type { Fact, Facts } from '@/core/base/facts'
import type { Work } from '@/core/base/work'
import type { Body, ExactBody } from '@/core/bodies/body'
import type { Packed, Unpacked } from '@/core/bodies/container'
import type { Affine } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import type { Fault } from '@/core/mesh/check-up'
import type { Bounds, TriMesh } from '@/core/mesh/tri-mesh'

/** Triangles of a body, and the face each lies on where the kind has faces. */
export interface Surface {
  readonly mesh: TriMesh
  /** Number of the exact face, source face or quad of each triangle. */
  readonly face?: Uint32Array
}

/** What is drawn of a body. Each triangle, segment and point carries the number of the part it shows; no `part`: the body has none. */
export interface Drawn {
  readonly skin?: {
    readonly positions: Float32Array
    readonly triangles: Uint32Array
    /** A normal for each corner; without them the bench makes creased ones. */
    readonly normals?: Float32Array
    readonly part?: Uint32Array
  }
  /** Segments as point pairs. */
  readonly lines?: { readonly points: Float32Array; readonly part?: Uint32Array }
  readonly points?: { readonly points: Float32Array; readonly part?: Uint32Array }
}

/** A row of the readout: a stable key, a label, and a figure with what it measures, or words. */
export interface FactRow {
  readonly key: string
  readonly label: string
  readonly value: Fact
  readonly as: 'count' | 'length' | 'area' | 'volume' | 'size' | 'place' | 'words'
}

/** What every list and readout shows of a body at a glance. */
export interface BodyFacts {
  readonly kind: string
  readonly size: Vec3
  readonly min: Vec3
  /** Closed and without a fault that a glance can see. */
  readonly sound: boolean
  /** In a word or two, behind the kind's name: "closed", "3 holes". */
  readonly badge: string
  readonly rows: readonly FactRow[]
  /** Figures by stable names, for cards and scripts. */
  readonly figures: Readonly<Record<string, number>>
  /** Colour and name it brings from its file. */
  readonly colour?: string
  readonly label?: string
  readonly can: readonly Capability[]
}

/** What a kind may be able to do. A setting asks for one of these instead of for kinds by name. */
export const capabilities = ['surface', 'exact', 'parts', 'check'] as const
export type Capability = (typeof capabilities)[number]

export type PartSort = 'face' | 'edge'

/** How a face or edge is written: the nearest one to a place, made firm by its name when it was picked. */
export interface PartRef {
  readonly at: Vec3
  readonly name?: string
}

/** One face or edge as it is told of: its number on this body, its lasting name, and its signature. */
export interface Part {
  readonly index: number
  readonly name: string
  readonly shape: string
  readonly at: Vec3
  readonly axis?: Vec3
  readonly centre?: Vec3
  readonly radius?: number
  readonly area?: number
  readonly length?: number
}

/** Findings of a check-up: figures by stable names, places to look at, and what is said of it. */
export interface Checked {
  readonly facts: Facts
  readonly faults: readonly Fault[]
  readonly said: string
}

export interface KindDefinition<B extends Body = Body> {
  readonly kind: B['kind']
  /** The word on badges and in lists. */
  readonly title: string
  /** Raised when `pack` writes something else; `unpack` still reads what older versions wrote. */
  readonly version: number
  pack(body: B): Pick<Packed, 'head' | 'arrays'>
  /** The body back; throws `bad-body` when something is missing. `from` is the version it was packed by. */
  unpack(bytes: Unpacked, from: number): B
  bounds(body: B): Bounds
  /** The body under an affine map; throws when the kind does not take such a map. */
  move(body: B, map: Affine): Promise<B>
  facts(body: B): Omit<BodyFacts, 'kind' | 'can'>
  draw(body: B): Drawn
  /** Triangles within a chord tolerance, mm, for booleans, sections and mesh files. */
  surface?(body: B, chord: number): Promise<Surface>
  /** Whether `surface` is exact whatever the chord tolerance. */
  readonly faceted?: true
  /** The body as an exact shape, for features, exact booleans and STEP. */
  exact?(body: B): ExactBody
  readonly parts?: {
    list(body: B, sort: PartSort): readonly Part[]
    /** The part a reference means. Throws StepError `lost-part` when it cannot be told: then it is asked for, never guessed. */
    resolve(body: B, sort: PartSort, ref: PartRef): Part
  }
  check?(body: B, work: Work): Checked
  /**
   * Laws of the kind that a body breaks, each a sentence without its end that goes on after the body's name; cheap enough to be asked of
   * every body that a step makes.
   */
  flaws?(body: B): readonly string[]
  /** Its smallest feature, mm: coordinates have to tell apart a small share of it. */
  detail?(body: B): number
  /** The corners of the body when they may hold things that are no numbers; steps are spared such bodies. */
  coordinates?(body: B): Float32Array
}

export const defineKind = <B extends Body>(kind: KindDefinition<B>): KindDefinition<B> => kind
