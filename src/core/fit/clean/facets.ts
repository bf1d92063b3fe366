/** Facets of a drawn part: what is flat is one facet however many triangles it is cut into. */
import type { SkinField } from '@/core/find/smooth-surface'
import { cross, distance, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, triangleOf } from '@/core/mesh/topology'
import { corners, triangleCount, vertex, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'
import type { Fitted } from '../fit-shape'
import { normalOf, offShape } from '../shape'
import type { Samples } from '../samples'

export /** Triangles in one plane that hang together. */
interface Facet {
  readonly triangles: number[]
  readonly area: number
  readonly normal: Vec3
  /** Vertices where it meets two others or more: those of the surface. What lies between on its sides, and inside, only divides it. */
  readonly corners: number[]
  /** Facets beside it, with how much it turns to them, radians. */
  readonly beside: Map<number, number>
}

/** Triangles that turn less than this are in one plane, radians. */
const flatTurn = 0.002

/** Facets of one wall turn less than this from one to the next, radians. */
export const wallTurn = 0.75
/** Facets of one wall are alike: the larger has at most so many times the area of the smaller beside it. */
export const alike = 4

/** @param step mm: what coordinates were rounded to; 0 where they were not */
export function facetsOf({ mesh, topology, normals }: SkinField, step: number): { facets: Facet[]; of: Int32Array } {
  const n = triangleCount(mesh)
  const of = new Int32Array(n).fill(-1)
  const cosine = Math.cos(flatTurn)
  const normal = (t: number): Vec3 => [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
  const facets: Facet[] = []
  // Rounded corners tell a plane by large triangles only.
  const order = [...Array(n).keys()]
  if (step) order.sort((a, b) => triangleArea(mesh, b) - triangleArea(mesh, a) || a - b)
  for (const s of order) {
    if (of[s] >= 0) continue
    const list = [s]
    of[s] = facets.length
    let area = 0
    const own = normal(s)
    const rounded = step ? roundedPlane(mesh, s, own, step) : null
    for (const t of list) {
      area += triangleArea(mesh, t)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w < 0) continue
        const u = triangleOf(w)
        // Against the first one too, so that a fine wall does not creep round.
        const flat = (dot(normal(u), normal(t)) > cosine && dot(normal(u), own) > cosine) || rounded?.(u, normal(u))
        if (of[u] < 0 && flat) {
          of[u] = of[s]
          list.push(u)
        }
      }
    }
    const whole = step ? meanNormal(mesh, list) : own
    facets.push({ triangles: list, area, normal: whole, corners: [], beside: new Map() })
  }
  for (let h = 0; h < 3 * n; h++) {
    const w = topology.twin[h]
    if (w < 0) continue
    const [a, b] = [of[triangleOf(h)], of[triangleOf(w)]]
    if (a === b) continue
    facets[a].beside.set(b, Math.acos(Math.max(-1, Math.min(1, dot(facets[a].normal, facets[b].normal)))))
  }
  // Facets round each vertex; a rim counts as one.
  const around = new Map<number, Set<number>>()
  const note = (v: number, facet: number) => {
    const set = around.get(v)
    if (set) set.add(facet)
    else around.set(v, new Set([facet]))
  }
  for (let h = 0; h < 3 * n; h++) {
    note(mesh.triangles[h], of[triangleOf(h)])
    if (topology.twin[h] >= 0) continue
    note(mesh.triangles[h], -1)
    note(mesh.triangles[nextIn(h)], -1)
  }
  for (const [v, set] of around) if (set.size > 2) for (const k of set) if (k >= 0) facets[k].corners.push(v)
  // A facet of no such corner, as a lone flat one has it, keeps all of them.
  for (const f of facets) if (f.corners.length < 3) f.corners.splice(0, Infinity, ...verticesOf(mesh, f.triangles))
  return { facets, of }
}

/** A rounded corner is off by this share of the step at most: half of it along each axis. */
const rounding = Math.sqrt(3) / 2

/** Whether a triangle lies in the plane of another as well as rounded corners can tell: they carry their error on as far as it is extended. */
function roundedPlane(mesh: TriMesh, seed: number, own: Vec3, step: number): (t: number, normal: Vec3) => boolean {
  const [a, b, c] = corners(mesh, seed)
  const [u, v] = [sub(b, a), sub(c, a)]
  const twice = dot(cross(u, v), own) || 1e-300
  const tilt = (2 * rounding * step) / heightOf(mesh, seed)
  return (t, normal) => {
    const height = heightOf(mesh, t)
    // Rounding tilts a triangle by what it moves corners over its height; a sliver faces anywhere, and only where it lies tells.
    const turn = Math.acos(Math.max(-1, Math.min(1, dot(normal, own))))
    if (turn > flatTurn + tilt + (2 * rounding * step) / height && height > noHeight * step) return false
    return corners(mesh, t).every((p) => {
      const d = sub(p, a)
      const [second, third] = [dot(cross(d, v), own) / twice, dot(cross(u, d), own) / twice]
      const carried = Math.abs(1 - second - third) + Math.abs(second) + Math.abs(third)
      return Math.abs(dot(d, own)) < rounding * step * (1 + carried)
    })
  }
}

function meanNormal(mesh: TriMesh, list: readonly number[]): Vec3 {
  const sum = [0, 0, 0]
  for (const t of list) crossOf(mesh, t).forEach((v, k) => (sum[k] += v))
  return normalize(sum as unknown as Vec3)
}

export const centreOf = (mesh: TriMesh, triangles: readonly number[]): Vec3 => {
  const s = [0, 0, 0]
  let total = 0
  for (const t of triangles) {
    const a = triangleArea(mesh, t)
    total += a
    for (let c = 0; c < 3; c++) {
      const p = vertex(mesh, mesh.triangles[3 * t + c])
      for (let k = 0; k < 3; k++) s[k] += (a * p[k]) / 3
    }
  }
  return [s[0] / total, s[1] / total, s[2] / total]
}

/** A triangle lower than so many tolerances faces anywhere, as at the tip of a cone. */
export const noHeight = 4

/** Height of a triangle over its longest side. */
export function heightOf(mesh: TriMesh, t: number): number {
  const [a, b, c] = corners(mesh, t)
  return (2 * triangleArea(mesh, t)) / (Math.max(distance(a, b), distance(b, c), distance(c, a)) || 1e-300)
}

/** A facet lies on a shape: its corners do, and it faces as the shape does at its middle. */
export function liesOn(f: SkinField, facet: Facet, shape: Fitted, within: number): boolean {
  for (const v of facet.corners) if (Math.abs(offShape(shape, vertex(f.mesh, v))) > within) return false
  const n = normalOf(shape, centreOf(f.mesh, facet.triangles))
  return dot(n, facet.normal) * (shape.inside ? -1 : 1) > 0.95 && length(n) > 0.5
}

/** Corners of facets with the mean of the facets' normals there. */
export function cornersOf(f: SkinField, chosen: readonly Facet[]): Samples {
  const sums = new Map<number, [number, number, number, number]>()
  for (const facet of chosen)
    for (const v of facet.corners) {
      const s = sums.get(v) ?? [0, 0, 0, 0]
      const share = facet.area / facet.corners.length
      for (let k = 0; k < 3; k++) s[k] += share * facet.normal[k]
      s[3] += share
      sums.set(v, s)
    }
  const kept = [...sums].filter(([, s]) => Math.hypot(s[0], s[1], s[2]) > 0)
  return {
    points: kept.map(([v]) => vertex(f.mesh, v)),
    normals: kept.map(([, s]) => normalize([s[0], s[1], s[2]])),
    weights: kept.map(([, s]) => s[3]),
  }
}
