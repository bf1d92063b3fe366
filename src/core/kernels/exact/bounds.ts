/** The box of a shape: of what its faces are within their borders, not of the surfaces that they are cut from. */
import type { BRepAdaptor_Surface, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import type { SolidDisplay } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import type { ShapeIndex } from './explore'
import type { Kernel } from './kernel'

export interface Bounds {
  readonly lo: Vec3
  readonly hi: Vec3
}

/** Faces whose furthest places lie on their borders: straight in one direction at least. */
const ruled = /Plane|Cylinder|Cone|Extrusion/

/** The box that the kernel makes of a shape, or of its faces' surfaces where they are trimmed: never too small. */
export function roughBounds(oc: Kernel, shape: TopoDS_Shape): Bounds {
  const box = new oc.Bnd_Box()
  oc.BRepBndLib.AddOptimal(shape, box, false, false)
  box.SetGap(0)
  return { lo: [box.GetXMin(), box.GetYMin(), box.GetZMin()], hi: [box.GetXMax(), box.GetYMax(), box.GetZMax()] }
}

/** At most so many places of a face are looked at for each side of the box. */
const most = 6

/**
 * The box of a shape that has its facets: of its edges, and of places in the middle of bulging faces, found among their facets' corners
 * and brought to where the surface turns by Newton's method. To about 1e-7 of the shape's size.
 */
export function boundsOf(
  oc: Kernel,
  shape: TopoDS_Shape,
  faces: ShapeIndex,
  edges: ShapeIndex,
  display: SolidDisplay,
  chord: number,
): Bounds {
  const bulging = faces.list.map(
    (f) => !ruled.test(String(new oc.BRepAdaptor_Surface(oc.TopoDS.Face(f), true).GetType())),
  )
  if (!edges.list.length) return roughBounds(oc, shape)
  const lines = new oc.TopoDS_Compound()
  const builder = new oc.TopoDS_Builder()
  builder.MakeCompound(lines)
  for (const e of edges.list) if (!oc.BRep_Tool.Degenerated(oc.TopoDS.Edge(e))) builder.Add(lines, e)
  const { lo, hi } = roughBounds(oc, lines)
  if (!bulging.includes(true)) return { lo, hi }
  const out = { lo: [...lo] as [number, number, number], hi: [...hi] as [number, number, number] }
  const corners = cornersByFace(display, bulging)
  for (const [i, list] of corners)
    for (let k = 0; k < 3; k++)
      for (const side of [1, -1] as const) {
        const value = (c: number) => side * display.positions[3 * c + k]
        const far = list.reduce((m, c) => Math.max(m, value(c)), -Infinity)
        // The surface bulges over its facets by no more than their chord.
        if (far + 2 * chord < (side > 0 ? out.hi[k] : -out.lo[k])) continue
        const near = list
          .filter((c) => value(c) > far - 2 * chord)
          .sort((a, b) => value(b) - value(a))
          .slice(0, most)
        const reached = furthest(oc, oc.TopoDS.Face(faces.list[i]), i, display, list[0], near, k, side)
        if (side > 0) out.hi[k] = Math.max(out.hi[k], reached)
        else out.lo[k] = Math.min(out.lo[k], -reached)
      }
  return out
}

/** The corners of facets of each bulging face, in the order of the display. */
function cornersByFace(display: SolidDisplay, bulging: readonly boolean[]): Map<number, number[]> {
  const out = new Map<number, Set<number>>()
  display.face.forEach((f, t) => {
    if (!bulging[f]) return
    let set = out.get(f)
    if (!set) out.set(f, (set = new Set()))
    for (let j = 0; j < 3; j++) set.add(display.triangles[3 * t + j])
  })
  return new Map([...out].map(([f, set]) => [f, [...set].sort((a, b) => a - b)]))
}

type Flat = readonly [number, number]

/** How far a face reaches along one axis, `side` times its coordinate, from some of its facets' corners on. */
function furthest(
  oc: Kernel,
  face: TopoDS_Face,
  number: number,
  display: SolidDisplay,
  first: number,
  near: readonly number[],
  k: number,
  side: 1 | -1,
): number {
  let reached = -Infinity
  const location = new oc.TopLoc_Location()
  const net = oc.BRep_Tool.Triangulation(face, location, 0)
  if (!net?.HasUVNodes()) return Math.max(...near.map((c) => side * display.positions[3 * c + k]))
  const surface = new oc.BRepAdaptor_Surface(face, false)
  const known = new Map<number, Flat>()
  const at = (c: number): Flat => {
    let flat = known.get(c)
    if (!flat) {
      const p = net.UVNode(c - first + 1)
      known.set(c, (flat = [p.X(), p.Y()]))
    }
    return flat
  }
  for (const c of near) {
    const from = at(c)
    const p = surface.EvalD0(...from)
    const here = [p.X(), p.Y(), p.Z()]
    // Corners are told in single precision; one that lies elsewhere is not this one.
    if ([0, 1, 2].some((j) => Math.abs(here[j] - display.positions[3 * c + j]) > 1e-5 * (1 + Math.abs(here[j])))) {
      reached = Math.max(reached, side * display.positions[3 * c + k])
      continue
    }
    reached = Math.max(reached, side * here[k])
    const top = climb(oc, surface, from, k, side)
    if (!top || side * top.value <= reached) continue
    const within = trianglesAround(display, number, c).some((t) => inTriangle([at(t[0]), at(t[1]), at(t[2])], top.at))
    if (within) reached = side * top.value
  }
  return reached
}

/** The triangles of a face that share a corner with those round one of its corners. */
function trianglesAround({ face, triangles }: SolidDisplay, number: number, corner: number): number[][] {
  const own: number[][] = []
  face.forEach((f, t) => {
    if (f === number) own.push([triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]])
  })
  const ring = new Set(own.filter((t) => t.includes(corner)).flat())
  return own.filter((t) => t.some((c) => ring.has(c)))
}

/** Whether a place lies in a triangle, or on its border to rounding. */
function inTriangle([a, b, c]: readonly [Flat, Flat, Flat], p: Flat): boolean {
  const turn = (q: Flat, r: Flat) => (r[0] - q[0]) * (p[1] - q[1]) - (r[1] - q[1]) * (p[0] - q[0])
  const [x, y, z] = [turn(a, b), turn(b, c), turn(c, a)]
  const little = 1e-9 * (Math.abs(x) + Math.abs(y) + Math.abs(z))
  return (x >= -little && y >= -little && z >= -little) || (x <= little && y <= little && z <= little)
}

/** Where a coordinate of a surface is at its most, near a pair of parameters: Newton's method on its slopes, null where that goes astray. */
function climb(
  oc: Kernel,
  surface: BRepAdaptor_Surface,
  from: Flat,
  k: number,
  side: 1 | -1,
): { at: Flat; value: number } | null {
  const p = new oc.gp_Pnt()
  const [du, dv, duu, dvv, duv] = Array.from({ length: 5 }, () => new oc.gp_Vec())
  const part = (v: { X(): number; Y(): number; Z(): number }) => (k === 0 ? v.X() : k === 1 ? v.Y() : v.Z())
  let [u, v] = from
  let value = -Infinity
  for (let step = 0; step < 20; step++) {
    surface.D2(u, v, p, du, dv, duu, dvv, duv)
    const now = side * part(p)
    if (now < value - 1e-12 * Math.abs(value)) return null
    value = now
    const [gu, gv, a, b, c] = [du, dv, duu, duv, dvv].map((x) => side * part(x))
    const det = a * c - b * b
    // A hilltop bends down both ways.
    if (!(det > 0) || a >= 0) return null
    const [mu, mv] = [-(c * gu - b * gv) / det, -(a * gv - b * gu) / det]
    u += mu
    v += mv
    if (Math.abs(mu * gu) + Math.abs(mv * gv) < 1e-13 * (1 + Math.abs(value))) {
      surface.D0(u, v, p)
      return { at: [u, v], value: part(p) }
    }
  }
  return null
}
