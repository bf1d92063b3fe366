/**
 * Meshes of an exact part whose every triangle's face is known, and how what was recognised compares with those faces. Faces of one surface
 * that share a border count as one.
 */
import type { ExactBody, FacePart } from '@/core/bodies/body'
import type { Recognised } from '@/core/fit/recognise'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { random } from '@/core/math/random'
import { cross, dot, length, sub } from '@/core/math/vec'
import { refine } from '@/core/mend/refine'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, triangleOf } from '@/core/mesh/topology'
import { middleOf, triangleArea } from '@/core/mesh/triangle'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

export const facetings = ['coarse', 'fine', 'even'] as const
export type Faceting = (typeof facetings)[number]
/** One standard deviation of each coordinate, as a share of the diagonal. */
export const noises = [0, 1 / 20000, 1 / 5000, 1 / 2000] as const

export interface Known {
  readonly mesh: TriMesh
  /** Face of each triangle, numbered from 0; what is one surface is one face. */
  readonly face: Int32Array
  readonly kinds: readonly string[]
}

/** Whether two faces lie on one surface, so that neighbours of them count as one. */
function sameSurface(a: FacePart, b: FacePart): boolean {
  // Cones are told by their angle too, which is not known here; the kernel does not divide them.
  if (a.shape !== b.shape || a.shape === 'cone') return false
  const parallel = !a.axis || !b.axis || length(cross(a.axis, b.axis)) < 1e-6
  if (!parallel) return false
  if (a.shape === 'plane') return dot(a.axis!, b.axis!) > 0 && Math.abs(dot(sub(a.at, b.at), a.axis!)) < 1e-6
  const d = sub(a.centre!, b.centre!)
  const off = a.axis && a.shape !== 'torus' ? length(cross(d, a.axis)) : length(d)
  return off < 1e-6 && Math.abs((a.radius ?? 0) - (b.radius ?? 0)) < 1e-6
}

/** Numbers for faces of which those that touch on one surface have the same. */
function merged(body: ExactBody): { of: number[]; kinds: string[] } {
  const { faces, edges } = body.parts
  const of = faces.map((_, i) => i)
  const root = (i: number): number => (of[i] === i ? i : root(of[i]))
  for (const { faces: sides } of edges) {
    const [a, b] = sides
    if (b !== undefined && sameSurface(faces[a], faces[b])) of[root(a)] = root(b)
  }
  const roots = [...new Set(faces.map((_, i) => root(i)))]
  return { of: faces.map((_, i) => roots.indexOf(root(i))), kinds: roots.map((r) => faces[r].shape) }
}

/** A part as triangles: facets by a chord of a 400th or a 6000th of the size, or even ones of a 90th. */
export async function knownMesh(body: ExactBody, how: Faceting): Promise<Known> {
  const size = Math.hypot(...body.facts.size)
  const { of, kinds } = merged(body)
  const faceted = await facetSolid(body, size / (how === 'coarse' ? 400 : 6000))
  const own = (face: Uint32Array) => Int32Array.from(face, (f) => of[f])
  if (how !== 'even') return { mesh: faceted.mesh, face: own(faceted.face), kinds }
  const mesh = refine(faceted.mesh, { edge: size / 90, keepEdges: 25 })
  const search = new MeshSearch(faceted.mesh)
  const face = Int32Array.from({ length: triangleCount(mesh) }, (_, t) => {
    const near = search.nearest(middleOf(mesh, t))
    return of[faceted.face[near!.triangle]]
  })
  return { mesh, face, kinds }
}

/** Corners off by normal noise of a standard deviation in each coordinate, mm. */
export function noisy(mesh: TriMesh, sigma: number, seed = 5): TriMesh {
  if (!sigma) return mesh
  const { normal } = random(seed)
  return { ...mesh, positions: mesh.positions.map((v) => v + sigma * normal()) }
}

export interface Score {
  readonly faces: number
  /** Faces told as one region of their kind. */
  readonly right: number
  readonly missing: number
  /** Regions that are no face. */
  readonly invented: number
}

/** Shares of a face and of its region that have to be the same. */
const mostlyIs = 0.75

const kindOf = (k: string | undefined) => (k === 'ring' ? 'torus' : k)

/** Each face's one region; a region or a face counts once. */
export function scoreOf({ mesh, face, kinds }: Known, found: Recognised): Score {
  const area = Float64Array.from({ length: triangleCount(mesh) }, (_, t) => triangleArea(mesh, t))
  const faceArea = new Float64Array(kinds.length)
  face.forEach((f, t) => (faceArea[f] += area[t]))
  let right = 0
  const regions = found.regions.filter((r) => r.triangles.length)
  const taken = new Set<number>()
  for (const r of regions) {
    const by = new Map<number, number>()
    for (const t of r.triangles) by.set(face[t], (by.get(face[t]) ?? 0) + area[t])
    const [best, held] = [...by].sort((a, b) => b[1] - a[1])[0]
    const is = held >= mostlyIs * r.area && held >= mostlyIs * faceArea[best] && kindOf(r.shape?.kind) === kinds[best]
    if (!is || taken.has(best)) continue
    taken.add(best)
    right++
  }
  return { faces: kinds.length, right, missing: kinds.length - right, invented: regions.length - right }
}

/** Faces that border on each other, for looking into a failure. */
export const borders = ({ mesh, face }: Known): Set<string> => {
  const out = new Set<string>()
  buildTopology(mesh).twin.forEach((w, h) => {
    if (w >= 0 && face[triangleOf(h)] !== face[triangleOf(w)]) out.add(`${face[triangleOf(h)]} ${face[triangleOf(w)]}`)
  })
  return out
}

export const sizeOf = (mesh: TriMesh) => diagonal(meshBounds(mesh))
