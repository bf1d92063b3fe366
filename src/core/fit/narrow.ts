/**
 * Strips a few edges wide between larger surfaces, as a scan makes of sharp edges: they go to the surfaces beside them, from the border in,
 * whichever lies nearer.
 */
import { flood } from '@/core/mesh/flood'
import { edgeLength, triangleOf, type Topology } from '@/core/mesh/topology'
import { corners, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import type { Fitted } from './fit-shape'
import { normalOf, offShape } from './shape'

/** Strips of fewer edges across are narrow; what lies farther from the surface beside it than so many edges stays. */
const narrowEdges = 5
const mostOff = 3
/** Cosine. */
const leastFacing = 0.2
/** Fewer triangles of a scan are a scrap. */
const scrapTriangles = 12
/** Triangles in from its sides to the middle of the widest strip, two to an edge and some to spare. */
const deepest = 8
/** Regions of less than this share of the skin are bits. */
const bitShare = 3e-3

/**
 * @param of region of each triangle, -1 for none; changed
 * @param sharp mm: where edges of the mesh are not rounded by noise, a strip farther off the surfaces beside it than this is one of its own
 */
export function absorbNarrow(
  mesh: TriMesh,
  { twin }: Topology,
  of: Int32Array,
  shapes: readonly (Fitted | null)[],
  sharp = Infinity,
): void {
  const n = of.length
  const edge = (h: number) => edgeLength(mesh, h)
  const usual = usualEdge(mesh)
  const far = (t: number, r: number) => {
    let most = 0
    for (let c = 0; c < 3; c++)
      most = Math.max(most, Math.abs(offShape(shapes[r]!, vertex(mesh, mesh.triangles[3 * t + c]))))
    return spans(mesh, t, usual) ? Math.max(most, Math.abs(offShape(shapes[r]!, triangleMiddle(mesh, t)))) : most
  }
  // Half of a sharp edge's turn, and what noise adds; what lies across a bore closes it.
  const faces = (t: number, r: number) => {
    const shape = shapes[r]!
    return (
      dot(normalize(crossOf(mesh, t)), normalOf(shape, vertex(mesh, mesh.triangles[3 * t]))) * (shape.inside ? -1 : 1) >
      leastFacing
    )
  }
  const narrow = narrowStrips(mesh, twin, of, shapes, { sharp, usual, far })
  // From the wide surfaces inward, the nearest first, as deep as a strip is wide: what lies beyond closes a hole rather than an edge.
  const depth = new Uint8Array(n)
  let front: { t: number; r: number; off: number; deep: number }[] = []
  const reach = (t: number) => {
    if (depth[t] >= deepest) return
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
      if (u < 0 || !narrow[u]) continue
      const off = far(u, of[t])
      if (off <= Math.min(sharp, mostOff * usual) && faces(u, of[t]))
        front.push({ t: u, r: of[t], off, deep: depth[t] + 1 })
    }
  }
  for (let t = 0; t < n; t++) if (!narrow[t] && of[t] >= 0 && shapes[of[t]]) reach(t)
  while (front.length) {
    const now = front.sort((a, b) => a.off - b.off)
    front = []
    for (const { t, r, deep } of now) {
      if (!narrow[t]) continue
      narrow[t] = 0
      of[t] = r
      depth[t] = deep
      reach(t)
    }
  }
  if (sharp === Infinity) absorbScraps(twin, of, shapes, edge, (t, r) => far(t, r) <= mostOff * usual)
}

/** Triangles of strips that are narrow for their border, 1 each. `far`: how far a triangle lies from a region's shape, mm. */
function narrowStrips(
  mesh: TriMesh,
  twin: Int32Array,
  of: Int32Array,
  shapes: readonly (Fitted | null)[],
  { sharp, usual, far }: { sharp: number; usual: number; far: (t: number, r: number) => number },
): Uint8Array {
  const n = of.length
  const seen = new Uint8Array(n)
  const narrow = new Uint8Array(n)
  const free = (t: number) => of[t] < 0 || !shapes[of[t]]
  // All that is of no shape is one.
  const same = (t: number, u: number) => of[t] === of[u] || (free(t) && free(u))
  const whole = new Float64Array(shapes.length)
  let all = 0
  for (let t = 0; t < n; t++) {
    const own = triangleArea(mesh, t)
    all += own
    if (of[t] >= 0) whole[of[t]] += own
  }
  for (let s = 0; s < n; s++) {
    if (seen[s]) continue
    const part = [s]
    seen[s] = 1
    const beside = new Set<number>()
    let area = 0,
      border = 0
    for (const t of part) {
      area += triangleArea(mesh, t)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        if (twin[h] < 0) continue
        const u = triangleOf(twin[h])
        if (!same(t, u)) {
          border += edgeLength(mesh, h)
          if (!free(u)) beside.add(of[u])
        } else if (!seen[u]) {
          seen[u] = 1
          part.push(u)
        }
      }
    }
    if (!(border > 0) || (2 * area) / border >= narrowEdges * usual) continue
    // One that has a shape of its own is a strip only where it hardly leaves larger ones beside it: two halves of one wall are not each other's.
    const larger = [...beside].filter((r) => free(s) || whole[r] > area)
    // A bit of a rounded edge fits some ring or ball by accident: small ones may leave their neighbours as far as those of no shape.
    const leaves = area < bitShare * all ? Math.min(sharp, mostOff * usual) : usual
    const near = (t: number) => larger.some((r) => far(t, r) <= leaves)
    if (free(s) || part.every(near)) for (const t of part) narrow[t] = 1
  }
  return narrow
}

/** The length of an edge in the middle of all, mm. */
function usualEdge(mesh: TriMesh): number {
  const all = mesh.triangles.length
  const step = Math.max(1, Math.floor(all / 3000))
  const some: number[] = []
  for (let h = 0; h < all; h += step) some.push(edgeLength(mesh, h))
  return some.sort((a, b) => a - b)[some.length >> 1] ?? 0
}

/** A triangle whose edges are so many times as long as others may have its corners on a wall and lie across it. */
const longTimes = 4
const spans = (mesh: TriMesh, t: number, usual: number) =>
  [0, 1, 2].some((c) => edgeLength(mesh, 3 * t + c) > longTimes * usual)
const triangleMiddle = (mesh: TriMesh, t: number): Vec3 => {
  const c = corners(mesh, t)
  return [0, 1, 2].map((k) => (c[0][k] + c[1][k] + c[2][k]) / 3) as unknown as Vec3
}

/**
 * Triangles that lie across a round wall with their corners on it, as those that close a bore do, are no part of it.
 * @param of region of each triangle, -1 for none; changed
 * @param within mm
 */
export function releaseSpanning(
  mesh: TriMesh,
  of: Int32Array,
  shapes: readonly (Fitted | null)[],
  within: number,
): void {
  const usual = usualEdge(mesh)
  of.forEach((r, t) => {
    const shape = r < 0 ? null : shapes[r]
    if (
      shape &&
      shape.kind !== 'plane' &&
      spans(mesh, t, usual) &&
      Math.abs(offShape(shape, triangleMiddle(mesh, t))) > within
    )
      of[t] = -1
  })
}

/** Scraps of a scan go to what they have most of their border with, of those that they are near; large triangles may close a bore. */
function absorbScraps(
  twin: Int32Array,
  of: Int32Array,
  shapes: readonly (Fitted | null)[],
  edge: (h: number) => number,
  near: (t: number, r: number) => boolean,
): void {
  const seen = new Uint8Array(of.length)
  for (let s = 0; s < of.length; s++) {
    if (seen[s]) continue
    const own = of[s]
    const part = flood(twin, s, seen, (u) => of[u] === own)
    if (part.length >= scrapTriangles) continue
    const beside = new Map<number, number>()
    for (const t of part)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const r = twin[h] < 0 ? -1 : of[triangleOf(twin[h])]
        if (r >= 0 && r !== own && shapes[r]) beside.set(r, (beside.get(r) ?? 0) + edge(h))
      }
    const to = [...beside].sort((a, b) => b[1] - a[1]).find(([r]) => part.every((t) => near(t, r)))
    if (to) for (const t of part) of[t] = to[0]
  }
}
