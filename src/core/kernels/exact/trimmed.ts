/** Exact faces on planes and cylinders inside borders of corners, as sheets. */
import type { TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import type { ExactBody, FacePart } from '@/core/bodies/body'
import { addScaled, cross, dot, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { finish } from './build'
import type { Kernel } from './kernel'
import { withKernel } from './scope'
import { sewn } from './sheets'
import { pointOf } from './wires'

interface Bordered {
  readonly face: FacePart
  readonly borders: readonly (readonly Vec3[])[]
}

type Flat = [number, number]

/** Whether a face's form is known well enough to be built anew. */
export const canTrim = (f: FacePart): boolean =>
  (f.shape === 'plane' && !!f.axis) || (f.shape === 'cylinder' && !!f.axis && !!f.centre && !!f.radius)

const signedArea = (row: readonly Flat[]) =>
  row.reduce((s, p, i) => {
    const q = row[(i + 1) % row.length]
    return s + p[0] * q[1] - q[0] * p[1]
  }, 0) / 2

/** A closed wire through places. */
function wireThrough(oc: Kernel, places: readonly Vec3[]): TopoDS_Wire | null {
  const make = new oc.BRepBuilderAPI_MakeWire()
  const list = new oc.NCollection_List_TopoDS_Shape()
  places.forEach((p, i) => {
    const edge = new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, p), pointOf(oc, places[(i + 1) % places.length]))
    if (edge.IsDone()) list.Append(edge.Edge())
  })
  make.Add(list)
  return make.IsDone() ? make.Wire() : null
}

/** What is left of a flat face. */
function flatFace(oc: Kernel, { face, borders }: Bordered): TopoDS_Shape[] {
  const n = face.axis!
  const x = perpendicular(n)
  const y = cross(n, x)
  // Onto the plane to the last digit: the mesh keeps fewer.
  const flat = borders.map((row) => row.map((p) => addScaled(p, n, -dot(sub(p, face.at), n))))
  const area = flat.map((row) => signedArea(row.map((p): Flat => [dot(p, x), dot(p, y)])))
  const plane = new oc.gp_Pln(pointOf(oc, face.at), new oc.gp_Dir(...n))
  const inside = (p: Vec3, row: readonly Vec3[]) => {
    let odd = false
    row.forEach((a, i) => {
      const b = row[(i + 1) % row.length]
      const [u, v, w, z] = [dot(a, y), dot(b, y), dot(a, x), dot(b, x)]
      const q = dot(p, y)
      if (u > q !== v > q && dot(p, x) < w + ((q - u) / (v - u)) * (z - w)) odd = !odd
    })
    return odd
  }
  return flat.flatMap((row, i) => {
    if (area[i] <= 0) return []
    const wire = wireThrough(oc, row)
    if (!wire) return []
    const make = new oc.BRepBuilderAPI_MakeFace(plane, wire, true)
    flat.forEach((hole, k) => {
      const w = area[k] < 0 && inside(hole[0], row) ? wireThrough(oc, hole) : null
      if (w) make.Add(w)
    })
    if (!make.IsDone()) return []
    const fix = new oc.ShapeFix_Face(make.Face())
    fix.FixOrientation()
    return [fix.Face()]
  })
}

/** The parts of a run of places in the plane that lie between two upright lines. */
function between(run: readonly Flat[], from: number, to: number): Flat[] {
  const at = (u: number): Flat => {
    for (let i = 1; i < run.length; i++) {
      const [a, b] = [run[i - 1], run[i]]
      if ((a[0] - u) * (b[0] - u) <= 0 && a[0] !== b[0]) return [u, a[1] + ((u - a[0]) / (b[0] - a[0])) * (b[1] - a[1])]
    }
    return [u, run[0][1]]
  }
  return [at(from), ...run.filter(([u]) => u > from + 1e-9 && u < to - 1e-9), at(to)]
}

/** What is left of a round wall: by its borders unrolled to angle and height; one that goes all round comes as two halves. */
function roundFaces(oc: Kernel, { face, borders }: Bordered): TopoDS_Shape[] {
  const [axis, centre, radius] = [face.axis!, face.centre!, face.radius!]
  const x = perpendicular(axis)
  const y = cross(axis, x)
  const frame = new oc.gp_Ax3(pointOf(oc, centre), new oc.gp_Dir(...axis), new oc.gp_Dir(...x))
  const surface = new oc.Geom_CylindricalSurface(frame, radius)
  const unrolled = borders.map((row) => {
    const out: Flat[] = []
    for (const p of [...row, row[0]]) {
      const d = sub(p, centre)
      let u = Math.atan2(dot(d, y), dot(d, x))
      if (out.length) u += 2 * Math.PI * Math.round((out[out.length - 1][0] - u) / (2 * Math.PI))
      out.push([u, dot(d, axis)])
    }
    return out
  })
  const turns = unrolled.map((row) => Math.round((row[row.length - 1][0] - row[0][0]) / (2 * Math.PI)))
  const wireOf = (places: readonly Flat[]): TopoDS_Wire | null => {
    const make = new oc.BRepBuilderAPI_MakeWire()
    const list = new oc.NCollection_List_TopoDS_Shape()
    places.forEach((p, i) => {
      const q = places[(i + 1) % places.length]
      const way: Flat = [q[0] - p[0], q[1] - p[1]]
      const l = Math.hypot(...way)
      if (l < 1e-9) return
      const line = new oc.Geom2d_Line(new oc.gp_Pnt2d(...p), new oc.gp_Dir2d(...way))
      const edge = new oc.BRepBuilderAPI_MakeEdge(line, surface, 0, l).Edge()
      oc.BRepLib.BuildCurve3d(edge)
      list.Append(edge)
    })
    make.Add(list)
    return make.IsDone() ? make.Wire() : null
  }
  const faceOf = (outer: readonly Flat[]) => {
    const wire = wireOf(outer)
    const make = wire && new oc.BRepBuilderAPI_MakeFace(surface, wire, true)
    if (!make?.IsDone()) return []
    const fix = new oc.ShapeFix_Face(make.Face())
    fix.FixOrientation()
    return [fix.Face()]
  }
  const round = unrolled.filter((_, i) => turns[i])
  if (!round.length)
    return unrolled.flatMap((row) => {
      const places = row.slice(0, -1)
      return faceOf(signedArea(places) < 0 ? [...places].reverse() : places)
    })
  if (round.length !== 2) return []
  // Both run from one angle on, the same way round, over more than a turn.
  const forward = round.map((row) => {
    const up = row[row.length - 1][0] > row[0][0] ? row : [...row].reverse()
    const shift = 2 * Math.PI * Math.floor(up[0][0] / (2 * Math.PI))
    const first = up.map(([u, v]): Flat => [u - shift, v])
    return [-1, 0, 1, 2].flatMap((k) => first.map(([u, v]): Flat => [u + 2 * Math.PI * k, v]))
  })
  const height = (row: readonly Flat[]) => row.reduce((s, p) => s + p[1], 0) / row.length
  const [low, high] = height(forward[0]) < height(forward[1]) ? forward : [forward[1], forward[0]]
  return [0, Math.PI].flatMap((u) =>
    faceOf([...between(low, u, u + Math.PI), ...between(high, u, u + Math.PI).reverse()]),
  )
}

/** Exact faces in their borders as one sheet; null where none of them could be built. Names stay. */
export const trimmedFaces = (list: readonly Bordered[]): Promise<{ sheet: ExactBody; built: number } | null> =>
  withKernel('Exact faces', (oc) => {
    let built = 0
    const faces = list.flatMap((b): [TopoDS_Shape, string][] => {
      const made = b.face.shape === 'plane' ? flatFace(oc, b) : roundFaces(oc, b)
      if (made.length) built++
      return made.map((f) => [f, b.face.name])
    })
    if (!faces.length) return null
    const all = sewn(oc, faces, 'Exact faces', 1e-3)
    return {
      sheet: finish(oc, all.shape, { what: 'Exact faces', names: all.names, prefix: 'face/', sheet: true }),
      built,
    }
  })
