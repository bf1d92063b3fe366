/** Facts of a shape, and the signature of each face and edge. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import type { CurveKind, EdgePart, FacePart, SolidDisplay, SolidFacts, SurfaceKind } from '@/core/bodies/body'
import { cross, normalize, sub, type Vec3 } from '@/core/math/vec'
import type { Bounds } from './bounds'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import type { FaceMass, Mass } from './mass'
import { edgeName, settleNames } from './names'

const surfaceOf: Record<string, SurfaceKind> = {
  GeomAbs_Plane: 'plane',
  GeomAbs_Cylinder: 'cylinder',
  GeomAbs_Cone: 'cone',
  GeomAbs_Sphere: 'sphere',
  GeomAbs_Torus: 'torus',
  GeomAbs_BSplineSurface: 'bspline',
  GeomAbs_BezierSurface: 'bspline',
}
const curveOf: Record<string, CurveKind> = {
  GeomAbs_Line: 'line',
  GeomAbs_Circle: 'circle',
  GeomAbs_Ellipse: 'ellipse',
  GeomAbs_BSplineCurve: 'bspline',
  GeomAbs_BezierCurve: 'bspline',
}

const tidy = (v: number) => (Math.abs(v) < 1e-12 ? 0 : Number(v.toPrecision(15)))
const short = (v: readonly number[]): Vec3 => [0, 1, 2].map((k) => tidy(Number(v[k].toFixed(6)))) as unknown as Vec3
/** Places and directions that others refer to: to the last digit that the kernel's own text keeps on every machine. */
const firm = (x: number, y: number, z: number): Vec3 =>
  [x, y, z].map((v) => tidy(Number(v.toFixed(11)))) as unknown as Vec3
const placeOf = (p: { X(): number; Y(): number; Z(): number }): Vec3 => firm(p.X(), p.Y(), p.Z())

/** A box as facts tell it, to a millionth of a millimetre. */
export function sizeOf({ lo, hi }: Bounds): Pick<SolidFacts, 'size' | 'min'> {
  const mm = (v: number) => Number(v.toFixed(6))
  return { size: [mm(hi[0] - lo[0]), mm(hi[1] - lo[1]), mm(hi[2] - lo[2])], min: [mm(lo[0]), mm(lo[1]), mm(lo[2])] }
}

/** Counts, area and volume of a shape, and whether the kernel finds it valid; `mass` is what `massOf` says of it. */
export function measure(
  oc: Kernel,
  shape: TopoDS_Shape,
  faces: ShapeIndex,
  edges: ShapeIndex,
  mass: Mass,
): Omit<SolidFacts, 'size' | 'min'> {
  const faceKinds = { plane: 0, cylinder: 0, cone: 0, sphere: 0, torus: 0, bspline: 0, other: 0 }
  for (const f of faces.list)
    faceKinds[surfaceOf[String(new oc.BRepAdaptor_Surface(oc.TopoDS.Face(f), true).GetType())] ?? 'other']++
  // The one check of this body: the kernel keeps some memory of each.
  const valid = new oc.BRepCheck_Analyzer(shape, true, false, false).IsValid()
  const pieces = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list.length
  return {
    pieces,
    faces: faces.list.length,
    edges: edges.list.length,
    valid,
    closed: pieces > 0,
    faceKinds,
    volume: tidy(mass.volume),
    area: tidy(mass.area),
    ...(pieces ? { centre: firm(...mass.centre) } : {}),
  }
}

/** The axis of a surface whose first parameter runs round it, from three places of one circle of it. */
function axisOfRound(a: { EvalD0(u: number, v: number): { X(): number; Y(): number; Z(): number } }, v: number) {
  const [p, q, r] = [0, 1, 2].map((i) => {
    const at = a.EvalD0((i * 2 * Math.PI) / 3, v)
    return [at.X(), at.Y(), at.Z()] as Vec3
  })
  const axis = normalize(cross(sub(q, p), sub(r, p)))
  // Evenly apart on the circle, so that their mean is its centre.
  return {
    axis: firm(...axis),
    centre: firm((p[0] + q[0] + r[0]) / 3, (p[1] + q[1] + r[1]) / 3, (p[2] + q[2] + r[2]) / 3),
  }
}

/** What a face's surface tells beside its kind: outward normal or axis, a place on the axis, radius. */
function signatureOf(oc: Kernel, f: TopoDS_Shape, shape: SurfaceKind): Pick<FacePart, 'axis' | 'centre' | 'radius'> {
  const a = new oc.BRepAdaptor_Surface(oc.TopoDS.Face(f), true)
  const rounded = (v: number) => tidy(Number(v.toFixed(6)))
  if (shape === 'plane') {
    const p = a.Plane()
    const d = p.Axis().Direction()
    const out = (String(f.Orientation()) === 'TopAbs_REVERSED') === p.Direct() ? -1 : 1
    return { axis: firm(out * d.X(), out * d.Y(), out * d.Z()) }
  }
  if (shape === 'cylinder') {
    const c = a.Cylinder()
    return { axis: placeOf(c.Axis().Direction()), centre: placeOf(c.Location()), radius: rounded(c.Radius()) }
  }
  if (shape === 'sphere') return { centre: placeOf(a.Sphere().Location()), radius: rounded(a.Sphere().Radius()) }
  if (shape === 'cone') return axisOfRound(a, a.FirstVParameter())
  return shape === 'torus' ? axisOfRound(a, 0) : {}
}

/** The point half-way along each edge's line, and the line's length. */
function edgeMiddles(display: SolidDisplay, count: number): ({ at: Vec3; length: number } | null)[] {
  const first = new Int32Array(count).fill(-1),
    last = new Int32Array(count)
  display.edge.forEach((e, i) => {
    if (first[e] < 0) first[e] = i
    last[e] = i
  })
  const l = display.lines
  const step = (i: number) =>
    Math.hypot(l[6 * i + 3] - l[6 * i], l[6 * i + 4] - l[6 * i + 1], l[6 * i + 5] - l[6 * i + 2])
  return Array.from({ length: count }, (_, e) => {
    if (first[e] < 0) return null
    let whole = 0
    for (let i = first[e]; i <= last[e]; i++) whole += step(i)
    let gone = 0
    for (let i = first[e]; i <= last[e]; i++) {
      const d = step(i)
      if (gone + d < whole / 2 && i < last[e]) {
        gone += d
        continue
      }
      const t = d > 0 ? Math.min(1, (whole / 2 - gone) / d) : 0
      return { at: short([0, 1, 2].map((k) => l[6 * i + k] + t * (l[6 * i + 3 + k] - l[6 * i + k]))), length: whole }
    }
    return null
  })
}

/** Faces and edges with names and signatures. `mass`: of each face; `names`: those the history gave; `prefix` begins the names of parts that got none. */
export function partsOf(
  oc: Kernel,
  faces: ShapeIndex,
  edges: ShapeIndex,
  display: SolidDisplay,
  mass: readonly FaceMass[],
  names: readonly string[],
  prefix: string,
): { faces: FacePart[]; edges: EdgePart[] } {
  const rawFaces = faces.list.map((f, i): FacePart => {
    const a = new oc.BRepAdaptor_Surface(oc.TopoDS.Face(f), true)
    const shape = surfaceOf[String(a.GetType())] ?? 'other'
    return {
      name: names[i] ?? '',
      shape,
      at: short(mass[i].at),
      area: tidy(Number(mass[i].area.toFixed(6))),
      ...signatureOf(oc, f, shape),
    }
  })
  const faceNames = settleNames(rawFaces, prefix)
  const around = edges.list.map((): number[] => [])
  faces.list.forEach((f, i) => {
    for (const e of new ShapeIndex(oc, f, 'TopAbs_EDGE').list) around[edges.indexOf(e)]?.push(i)
  })
  const lines = edgeMiddles(display, edges.list.length)
  const rawEdges = edges.list.map((e, i): EdgePart => {
    const list = around[i]
    const name = edgeName(list.map((f) => faceNames[f]))
    const line = lines[i]
    if (!line) {
      const at = list.length ? short(mass[list[0]].at) : ([0, 0, 0] as Vec3)
      return { name, shape: 'other', at, length: 0, faces: list }
    }
    const a = new oc.BRepAdaptor_Curve(oc.TopoDS.Edge(e))
    const shape = curveOf[String(a.GetType())] ?? 'other'
    const base = { name, shape, at: line.at, length: tidy(Number(line.length.toFixed(6))), faces: list }
    if (shape === 'line') {
      const [from, to] = [a.EvalD0(a.FirstParameter()), a.EvalD0(a.LastParameter())]
      const way = normalize([to.X() - from.X(), to.Y() - from.Y(), to.Z() - from.Z()])
      return { ...base, axis: firm(...way) }
    }
    if (shape !== 'circle') return base
    const c = a.Circle()
    const turn = Math.abs(a.LastParameter() - a.FirstParameter())
    return {
      ...base,
      length: tidy(Number((turn * c.Radius()).toFixed(6))),
      radius: tidy(Number(c.Radius().toFixed(6))),
      axis: placeOf(c.Axis().Direction()),
      centre: placeOf(c.Location()),
    }
  })
  const edgeNames = settleNames(rawEdges, prefix)
  return {
    faces: rawFaces.map((f, i) => ({ ...f, name: faceNames[i] })),
    edges: rawEdges.map((e, i) => ({ ...e, name: edgeNames[i] })),
  }
}
