/**
 * Facets of flat faces with many holes, from the lines of their edges: the kernel's own take a time that grows with the square of their
 * number. By ear cutting (library: earcut), on the very corners that the faces beside them have.
 */
import earcut from 'earcut'
import type { TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { cross, distance, dot, perpendicular, type Vec3 } from '@/core/math/vec'
import { hashOf, ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { wiresOf } from './queries'

/** Flat faces with fewer borders than this are left to the kernel. */
const fewBorders = 12

export interface HoledPlane {
  readonly face: TopoDS_Face
  /** Outward. */
  readonly normal: Vec3
  readonly wires: readonly TopoDS_Shape[]
}

/** The face with its borders where it is flat and has many of them; else null. */
export function holedPlane(oc: Kernel, shape: TopoDS_Shape): HoledPlane | null {
  const wires = wiresOf(oc, shape)
  if (wires.length < fewBorders) return null
  const face = oc.TopoDS.Face(shape)
  const a = new oc.BRepAdaptor_Surface(face, true)
  if (String(a.GetType()) !== 'GeomAbs_Plane') return null
  const p = a.Plane()
  const d = p.Axis().Direction()
  const out = (String(face.Orientation()) === 'TopAbs_REVERSED') === p.Direct() ? -1 : 1
  return { face, normal: [out * d.X(), out * d.Y(), out * d.Z()], wires }
}

/** Ends of edges this near, mm, are one corner. */
const same = 1e-4

/** Runs of places chained end to end to one loop; null where they do not close. */
function chain(runs: readonly Vec3[][]): Vec3[] | null {
  const rest = [...runs]
  const loop = [...rest.shift()!]
  while (rest.length) {
    const end = loop[loop.length - 1]
    const k = rest.findIndex((r) => distance(r[0], end) < same || distance(r[r.length - 1], end) < same)
    if (k < 0) return null
    const [next] = rest.splice(k, 1)
    const run = distance(next[0], end) < same ? next : [...next].reverse()
    loop.push(...run.slice(1))
  }
  if (distance(loop[0], loop[loop.length - 1]) > same) return null
  loop.pop()
  return loop.length >= 3 ? loop : null
}

/**
 * Corners and triangles of such a face. Null where its borders do not close: then the kernel has to do it.
 * @param lineOf places along an edge, by the edge's hash
 */
export function facetHoledPlane(
  oc: Kernel,
  { face, normal, wires }: HoledPlane,
  lineOf: (edge: number) => Vec3[] | undefined,
): { positions: Float32Array; triangles: Uint32Array } | null {
  const outer = oc.BRepTools.OuterWire(face)
  const loops: Vec3[][] = []
  for (const wire of wires) {
    const runs = new ShapeIndex(oc, wire, 'TopAbs_EDGE').list.map((e) => lineOf(hashOf(oc, e)))
    if (!runs.length || runs.some((r) => !r || r.length < 2)) return null
    const loop = chain(runs as Vec3[][])
    if (!loop) return null
    if (wire.IsSame(outer)) loops.unshift(loop)
    else loops.push(loop)
  }
  const x = perpendicular(normal)
  const y = cross(normal, x)
  const places = loops.flat()
  const holes: number[] = []
  let n = 0
  for (const l of loops.slice(0, -1)) holes.push((n += l.length))
  const flat = places.flatMap((p) => [dot(p, x), dot(p, y)])
  const triangles = Uint32Array.from(earcut(flat, holes))
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]]
    const [ax, ay] = [flat[2 * a], flat[2 * a + 1]]
    const turn = (flat[2 * b] - ax) * (flat[2 * c + 1] - ay) - (flat[2 * b + 1] - ay) * (flat[2 * c] - ax)
    if (turn < 0) [triangles[t + 1], triangles[t + 2]] = [c, b]
  }
  return { positions: Float32Array.from(places.flat()), triangles }
}
