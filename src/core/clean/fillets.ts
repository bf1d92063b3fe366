/**
 * Fillets among recognised regions: round strips that run on smoothly into the faces on both sides, and the corners between such strips.
 * Where they are left out, each goes to the faces beside it, which then meet in a sharp edge.
 */
import TinyQueue from 'tinyqueue'
import type { Fitted } from '@/core/fit/fit-shape'
import { normalOf, offShape } from '@/core/fit/shape'
import { cross, dot, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { edgeLength, nextIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { placesOf, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { middleOf, triangleArea } from '@/core/mesh/triangle'

/** Neighbours whose normals turn by less than this at the border run on into each other. */
const smooth = Math.cos((12 * Math.PI) / 180)
/** So much of a fillet's border is smooth; of a straight strip both its long sides are, however short it is. */
const smoothShare = 0.4
const sidesShare = 1.6
/** Strips that go farther round are no edges that were rounded but round walls, degrees. */
const mostTurn = 150
/** Corners that take more of their ball are no corners that were rounded. */
const mostBall = 0.4

/** How far a round region goes round its axis (of a ring: round its tube), degrees. */
function turnOf(shape: Fitted, places: readonly Vec3[]): number {
  const axis = shape.axis!
  const x = perpendicular(axis)
  const y = cross(axis, x)
  const angles = places
    .map((p) => {
      const d = sub(p, shape.at)
      if (shape.kind === 'ring') {
        const along = dot(d, axis)
        const out = Math.hypot(dot(d, x), dot(d, y))
        return Math.atan2(along, out - shape.radius!)
      }
      return Math.atan2(dot(d, y), dot(d, x))
    })
    .sort((a, b) => a - b)
  let gap = 0
  angles.forEach((a, i) => (gap = Math.max(gap, (i + 1 < angles.length ? angles[i + 1] : angles[0] + 2 * Math.PI) - a)))
  return 360 - (gap * 180) / Math.PI
}

const outward = (s: Fitted, p: Vec3): Vec3 => (s.inside ? scale(normalOf(s, p), -1) : normalOf(s, p))
const roundOf = (s: Fitted) => (s.kind === 'ring' ? s.thickness! : s.radius!)

/**
 * Which regions are fillets.
 * @param of region of each triangle, -1 for none
 * @param upTo radius that larger ones are no fillets beyond, mm
 */
export function filletsOf(
  mesh: TriMesh,
  { twin }: Topology,
  of: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  triangles: readonly (readonly number[])[],
  upTo = Infinity,
): Set<number> {
  const out = new Set<number>()
  shapes.forEach((s, r) => {
    if (!s || (s.kind !== 'cylinder' && s.kind !== 'ring' && s.kind !== 'sphere') || roundOf(s) > upTo) return
    let [whole, runs] = [0, 0]
    const beside = new Set<number>()
    for (const t of triangles[r])
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const q = twin[h] < 0 ? -1 : of[triangleOf(twin[h])]
        if (q === r) continue
        const l = edgeLength(mesh, h)
        whole += l
        const other = q < 0 ? null : shapes[q]
        if (!other) continue
        const [a, b] = [vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)])]
        const middle: Vec3 = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]
        if (dot(outward(s, middle), outward(other, middle)) < smooth) continue
        runs += l
        beside.add(q)
      }
    if (beside.size < 2) return
    const places = placesOf(mesh, triangles[r])
    const along = s.kind === 'cylinder' ? places.map((p) => dot(p, s.axis!)) : null
    const long =
      along && along.reduce((m, v) => Math.max(m, v), -Infinity) - along.reduce((m, v) => Math.min(m, v), Infinity)
    if (runs < (long ? sidesShare * long : smoothShare * whole)) return
    if (s.kind === 'sphere') {
      const area = triangles[r].reduce((sum, t) => sum + triangleArea(mesh, t), 0)
      if (area < mostBall * 4 * Math.PI * s.radius! ** 2) out.add(r)
    } else if (turnOf(s, places) < mostTurn) out.add(r)
  })
  return out
}

export interface WithoutFillets {
  /** Region of each triangle, with those of fillets given to the faces beside. */
  readonly of: Int32Array
  /** Triangles that were given so. */
  readonly moved: Uint8Array
  /** How far they lie off their new faces at most, mm. */
  readonly reach: number
}

/** Triangles of fillets given to the faces beside, from those faces on inward: the nearest surface first, so that each stays in one piece. */
export function withoutFillets(
  mesh: TriMesh,
  { twin }: Topology,
  of: ArrayLike<number>,
  shapes: readonly (Fitted | null)[],
  gone: ReadonlySet<number>,
): WithoutFillets {
  const next = Int32Array.from(of)
  const moved = new Uint8Array(of.length)
  let reach = 0
  const offs = (t: number, r: number) => {
    const s = shapes[r]!
    const m = middleOf(mesh, t)
    return Math.abs(offShape(s, m))
  }
  const open = new TinyQueue<{ off: number; t: number; r: number }>([], (a, b) => a.off - b.off)
  const ask = (h: number) => {
    const r = next[triangleOf(h)]
    const t = twin[h] < 0 ? -1 : triangleOf(twin[h])
    if (t < 0 || r < 0 || gone.has(r) || !shapes[r] || !gone.has(of[t]) || moved[t]) return
    open.push({ off: offs(t, r), t, r })
  }
  for (let h = 0; h < twin.length; h++) ask(h)
  for (let at = open.pop(); at; at = open.pop()) {
    const { t, r } = at
    if (moved[t]) continue
    moved[t] = 1
    next[t] = r
    for (let c = 0; c < 3; c++)
      reach = Math.max(reach, Math.abs(offShape(shapes[r]!, vertex(mesh, mesh.triangles[3 * t + c]))))
    for (let h = 3 * t; h < 3 * t + 3; h++) ask(h)
  }
  return { of: next, moved, reach }
}
