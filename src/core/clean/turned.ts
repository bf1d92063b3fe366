/** Whether a mesh is a body of revolution; and its half section. */
import { circleThrough } from '@/core/math/through'
import { addScaled, cross, dot, normalize, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import type { Topology } from '@/core/mesh/topology'
import { meshCentroid } from '@/core/mesh/measures'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, middleOf } from '@/core/mesh/triangle'
import type { DrawingPlane, Place } from '@/core/outline/drawing'
import { slicerOf } from '@/core/section/slice'
import type { Row } from '@/core/trace/rows'
import { filledRows } from './filled-row'
import { directionsOf } from './prism'

interface Line {
  readonly at: Vec3
  readonly axis: Vec3
}

export interface Turned {
  readonly at: Vec3
  readonly axis: Vec3
  /** First direction away from the axis, second along it. */
  readonly plane: DrawingPlane
  /** Closed loops beside the axis, and runs that begin and end on it. */
  readonly rows: readonly Row[]
}

/** Normals may lean out of the plane through the axis by this, as those of facets do by a sixth of their turn (sine); that much of the skin may lean more. */
const mostLean = 0.14
const mayLean = 1e-3

/** Share of the skin whose normals do not lie in the planes through the axis. */
function leaning(mesh: TriMesh, at: Vec3, axis: Vec3): number {
  let whole = 0,
    out = 0
  for (let t = 0; t < triangleCount(mesh); t++) {
    const c = crossOf(mesh, t)
    const l = Math.hypot(...c)
    whole += l
    const around = cross(axis, sub(middleOf(mesh, t), at))
    const wide = Math.hypot(...around)
    if (l > 0 && wide > 0 && Math.abs(dot(c, around)) > mostLean * l * wide) out += l
  }
  return whole > 0 ? out / whole : 1
}

/** Runs of a closed row of (away, along) on the side away from the axis. */
function outerRuns(places: readonly Place[]): Row[] {
  const n = places.length
  if (places.every((p) => p[0] >= 0)) return [{ places, closed: true }]
  if (places.every((p) => p[0] <= 0)) return []
  const out: Row[] = []
  const start = places.findIndex((p, i) => p[0] > 0 && places[(i + n - 1) % n][0] <= 0)
  let run: Place[] = []
  const crossing = (a: Place, b: Place): Place => [0, a[1] + ((0 - a[0]) / (b[0] - a[0] || 1)) * (b[1] - a[1])]
  for (let k = 0; k < n; k++) {
    const [a, p, b] = [places[(start + k + n - 1) % n], places[(start + k) % n], places[(start + k + 1) % n]]
    if (p[0] <= 0) continue
    if (a[0] <= 0) run.push(crossing(a, p))
    run.push(p)
    if (b[0] > 0) continue
    run.push(crossing(p, b))
    out.push({ places: run, closed: false })
    run = []
  }
  return out
}

/** Corners at one height that make a circle, at least so many, tell where the axis is. */
const leastRound = 8

/** The axis moved, without turning it, to the middle of the circles that corners of the mesh lie on. */
function centred(mesh: TriMesh, at: Vec3, axis: Vec3, close: number): Vec3 {
  const x = perpendicular(axis)
  const y = cross(axis, x)
  const used = [...new Set(mesh.triangles)].map((v): [number, number, number] => {
    const d = sub(vertex(mesh, v), at)
    return [dot(d, x), dot(d, y), dot(d, axis)]
  })
  used.sort((a, b) => a[2] - b[2])
  let [sx, sy, n] = [0, 0, 0]
  for (let from = 0; from < used.length;) {
    let to = from + 1
    while (to < used.length && used[to][2] - used[from][2] <= close) to++
    const level = used.slice(from, to)
    from = to
    // Of a level the outermost ring.
    const far = Math.max(...level.map((p) => Math.hypot(p[0], p[1])))
    const ring = level.filter((p) => far - Math.hypot(p[0], p[1]) <= 50 * close)
    if (ring.length < leastRound) continue
    const circle = circleThrough(ring.map((p) => [p[0], p[1]]))
    if (!circle || Math.hypot(circle.x, circle.y) > 100 * close) continue
    sx += circle.x * ring.length
    sy += circle.y * ring.length
    n += ring.length
  }
  return n ? addScaled(addScaled(at, x, sx / n), y, sy / n) : at
}

/** @param close mm: corners nearer than this are one. Null where the mesh is no body of revolution about the line. */
export function turnedAbout(mesh: TriMesh, topology: Topology, near: Vec3, way: Vec3, close: number): Turned | null {
  if (topology.openEdges) return null
  const axis = normalize(way)
  if (leaning(mesh, near, axis) > mayLean) return null
  const at = centred(mesh, near, axis, close)
  const x = perpendicular(axis)
  // The section gives the order of things; the corners of the mesh, turned into its plane, lie on the profile itself.
  const normal = cross(x, axis)
  const plane: DrawingPlane = { at, normal, x }
  const flat = (p: Vec3): Place => {
    const d = sub(p, at)
    return [dot(d, x), dot(d, axis)]
  }
  const rows = slicerOf(mesh)
    .slice(normal, dot(normal, at), false)
    .loops.flatMap(({ points, closed }) => {
      if (!closed) return []
      const places = Array.from({ length: points.length / 3 }, (_, i) =>
        flat([points[3 * i], points[3 * i + 1], points[3 * i + 2]]),
      )
      return outerRuns(places)
    })
  if (!rows.length) return null
  const around: Place[] = []
  for (const v of new Set(mesh.triangles)) {
    const d = sub(vertex(mesh, v), at)
    const z = dot(d, axis)
    const r = Math.sqrt(Math.max(0, dot(d, d) - z * z))
    around.push([r, z])
  }
  const filled = filledRows(rows, around, close, true)
  return filled && { at, axis, plane, rows: filled }
}

/** The axes of round shapes that were found in a mesh, the first few. */
export const axesFound = (shapes: readonly { at: Vec3; axis?: Vec3; kind: string }[]): Line[] =>
  shapes
    .filter((s) => s.axis && s.kind !== 'plane')
    .slice(0, 3)
    .map((s) => ({ at: s.at, axis: s.axis! }))

/** Lines through the middle of a mesh that it may turn about: along the axes of the world, and square to its flat ends. */
export function axesThroughMiddle(mesh: TriMesh): Line[] {
  const at = meshCentroid(mesh)
  if (!at) return []
  const world: Vec3[] = [
    [0, 0, 1],
    [1, 0, 0],
    [0, 1, 0],
  ]
  return [...world, ...directionsOf(mesh)].map((axis) => ({ at, axis }))
}
