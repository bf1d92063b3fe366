/**
 * Area, volume and their first moments of faces whose walls or borders are splines, where the few places a face that the kernel takes are
 * not enough. The sum over a face becomes one along its borders in the plane of its parameters (Green's theorem), the volume of a solid
 * one over its faces (Gauss's theorem).
 */
import type { BRepAdaptor_Curve2d, BRepAdaptor_Surface, TopoDS_Edge, TopoDS_Face } from 'replicad-opencascadejs'
import { addScaled, cross, dot, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { gaussRule, integrate, sumUp, type Integrand } from '@/core/math/gauss-legendre'
import { SplineSurface } from '@/core/math/spline-surface'
import type { Kernel } from './kernel'

/** What a face adds up to, all taken from an origin; volumes are those of the cone from there to the face. */
export interface FaceSums {
  /** mm². */
  readonly area: number
  /** Area times place, mm³. */
  readonly areaMoment: Vec3
  /** mm³; below zero where the face looks towards the origin. */
  readonly volume: number
  /** Volume times place, mm⁴. */
  readonly volumeMoment: Vec3
}

/** Error of a face's sums, as a share of what they are at most. */
const share = 1e-9
const smooth = 'GeomAbs_CN' as never

/** Parameters between which a curve, or a surface along one of its parameters, is smooth. */
function breaks(oc: Kernel, count: number, fill: (list: never) => void): number[] {
  const list = new oc.NCollection_Array1_double(1, count + 1)
  fill(list as never)
  return Array.from({ length: count + 1 }, (_, i) => list.Value(i + 1))
}

/** Borders where faces cut each other have a thousand pieces: so many stretches are enough, halved where they are not. */
const mostStretches = 64

/** Some of the bounds, first and last among them. */
function thinned(along: readonly number[]): readonly number[] {
  const step = Math.ceil((along.length - 1) / mostStretches)
  return step <= 1 ? along : along.filter((_, i) => i % step === 0 || i === along.length - 1)
}

/** The edges of a face with the direction in which its border runs through them, a seam twice. */
function bordersOf(oc: Kernel, face: TopoDS_Face): { edge: TopoDS_Edge; way: 1 | -1 }[] {
  const out: { edge: TopoDS_Edge; way: 1 | -1 }[] = []
  const e = new oc.TopExp_Explorer(face, 'TopAbs_EDGE' as never)
  for (; e.More(); e.Next()) {
    const edge = oc.TopoDS.Edge(e.Current())
    const orientation = String(edge.Orientation())
    if (orientation === 'TopAbs_FORWARD') out.push({ edge, way: 1 })
    else if (orientation === 'TopAbs_REVERSED') out.push({ edge, way: -1 })
  }
  return out
}

/**
 * Sums of a face, to about nine digits of what its size allows, adaptive along its borders and exact for the degree at hand across.
 * `far`: how far the face reaches from the origin at most, mm; `size`: how long it is at most, mm.
 */
export function faceSums(oc: Kernel, given: TopoDS_Face, origin: Vec3, size: number, far: number): FaceSums {
  const face = oc.TopoDS.Face(given.Oriented('TopAbs_FORWARD' as never))
  const turned = String(given.Orientation()) === 'TopAbs_REVERSED' ? -1 : 1
  const surface = new oc.BRepAdaptor_Surface(face, true)
  const flat = String(surface.GetType()) === 'GeomAbs_Plane'
  const sums = flat ? flatSums(oc, face, surface, origin, size) : curvedSums(oc, face, surface, origin, size, far)
  return { ...sums, volume: turned * sums.volume, volumeMoment: scale(sums.volumeMoment, turned) }
}

/** Of a flat face, along its edges in space: half the turn of the place, and its moments. */
function flatSums(oc: Kernel, face: TopoDS_Face, surface: BRepAdaptor_Surface, origin: Vec3, size: number): FaceSums {
  const p = new oc.gp_Pnt(),
    d = new oc.gp_Vec(),
    dv = new oc.gp_Vec()
  surface.D1(0, 0, p, d, dv)
  const normal = normalize(cross([d.X(), d.Y(), d.Z()], [dv.X(), dv.Y(), dv.Z()]))
  const x = perpendicular(normal)
  const y = cross(normal, x)
  const total = new Float64Array(3)
  const middle = edgeMiddle(oc, face) ?? ([p.X(), p.Y(), p.Z()] as Vec3)
  const area = share * size * size
  for (const { edge, way } of bordersOf(oc, face)) {
    if (oc.BRep_Tool.Degenerated(edge)) continue
    const curve = new oc.BRepAdaptor_Curve(edge)
    const along = thinned(breaks(oc, curve.NbIntervals(smooth), (list) => curve.Intervals(list, smooth)))
    const round: Integrand = (t, w, out) => {
      curve.D1(t, p, d)
      const [at, go]: Vec3[] = [
        [p.X() - middle[0], p.Y() - middle[1], p.Z() - middle[2]],
        [d.X(), d.Y(), d.Z()],
      ]
      const [a, b, da, db] = [dot(at, x), dot(at, y), dot(go, x), dot(go, y)]
      out[0] += (way * w * (a * db - b * da)) / 2
      out[1] += (way * w * a * a * db) / 2
      out[2] -= (way * w * b * b * da) / 2
    }
    for (let i = 0; i + 1 < along.length; i++)
      integrate(round, along[i], along[i + 1], [area, area * size, area * size], total)
  }
  const from = sub(middle, origin)
  const moment = addScaled(addScaled(scale(from, total[0]), x, total[1]), y, total[2])
  const height = dot(from, normal) / 3
  return {
    area: total[0],
    areaMoment: moment,
    volume: height * total[0],
    // The middle of a cone lies three quarters of the way to its base.
    volumeMoment: scale(moment, 0.75 * height),
  }
}

/** A place on the first edge of a face, so that nothing is taken from afar. */
function edgeMiddle(oc: Kernel, face: TopoDS_Face): Vec3 | null {
  const first = bordersOf(oc, face).find(({ edge }) => !oc.BRep_Tool.Degenerated(edge))
  if (!first) return null
  const curve = new oc.BRepAdaptor_Curve(first.edge)
  const at = curve.EvalD0(curve.FirstParameter())
  return [at.X(), at.Y(), at.Z()]
}

/** A whole round in eight parts, so that eight places in each are exact to rounding. */
const roundParts = 8

/** How a sum along one parameter of a surface is taken. */
interface Along {
  /** Bounds of the parts that are smooth each. */
  readonly knots: readonly number[]
  /** Places a part. */
  readonly places: number
}

function alongOf(
  type: string,
  way: 'U' | 'V',
  knots: readonly number[],
  spline: { degree: number; rational: boolean } | null,
): Along {
  const [from, to] = [knots[0], knots[knots.length - 1]]
  if (way === 'V' && /Cylinder|Cone|Extrusion/.test(type)) return { knots: [from, to], places: 3 }
  if (way === 'U' ? /Cylinder|Cone|Sphere|Torus|Revolution/.test(type) : /Sphere|Torus/.test(type)) {
    const parts = Math.max(1, Math.ceil(((to - from) / (2 * Math.PI)) * roundParts - 1e-9))
    return { knots: Array.from({ length: parts + 1 }, (_, i) => from + ((to - from) * i) / parts), places: 8 }
  }
  // The cone of a spline patch is a polynomial of three times its degree; areas and quotients want some more.
  const places = spline ? Math.max(6, Math.ceil(1.5 * spline.degree) + (spline.rational ? 4 : 2)) : 10
  return { knots, places }
}

/** Gives place and slopes at a pair of parameters, as `SplineSurface.at` does. */
type Evaluate = (u: number, v: number, out: Float64Array) => void

/** Splines are evaluated here, where a place costs a tenth of a call of the kernel. */
function evaluatorOf(oc: Kernel, surface: BRepAdaptor_Surface): Evaluate {
  if (String(surface.GetType()) === 'GeomAbs_BSplineSurface') {
    const s = surface.BSpline()
    if (!s.IsUPeriodic() && !s.IsVPeriodic()) {
      const [nu, nv] = [s.NbUPoles(), s.NbVPoles()]
      const rational = s.IsURational() || s.IsVRational()
      const poles = new Float64Array(4 * nu * nv)
      for (let i = 0; i < nu; i++)
        for (let j = 0; j < nv; j++) {
          const p = s.Pole(i + 1, j + 1)
          const w = rational ? s.Weight(i + 1, j + 1) : 1
          poles.set([w * p.X(), w * p.Y(), w * p.Z(), w], 4 * (i * nv + j))
        }
      const row = (list: { Length(): number; Value(i: number): number }) =>
        Float64Array.from({ length: list.Length() }, (_, i) => list.Value(i + 1))
      const net = {
        degree: [s.UDegree(), s.VDegree()] as const,
        knots: [row(s.UKnotSequence()), row(s.VKnotSequence())] as const,
        poles,
      }
      const spline = new SplineSurface(net)
      return (u, v, out) => spline.at(u, v, out)
    }
  }
  const p = new oc.gp_Pnt(),
    du = new oc.gp_Vec(),
    dv = new oc.gp_Vec()
  return (u, v, out) => {
    surface.D1(u, v, p, du, dv)
    out[0] = p.X()
    out[1] = p.Y()
    out[2] = p.Z()
    out[3] = du.X()
    out[4] = du.Y()
    out[5] = du.Z()
    out[6] = dv.X()
    out[7] = dv.Y()
    out[8] = dv.Z()
  }
}

/** The surface of a face, with sums across it. */
class Across {
  /** Along which parameter the sums across are taken: the one that has fewer places. */
  readonly by: 'U' | 'V'
  /** Bounds of smooth parts of the other one, and places that are enough for each. */
  readonly knots: readonly number[]
  readonly places: number
  private readonly along: Along
  private readonly evaluate: Evaluate
  private readonly place = new Float64Array(9)
  /** Sums of the last strip: area and its moments, volume and its moments. */
  readonly strip = new Float64Array(8)

  constructor(
    oc: Kernel,
    surface: BRepAdaptor_Surface,
    private readonly origin: Vec3,
  ) {
    const type = String(surface.GetType())
    const spline = /BSpline|Bezier/.test(type)
    const u = alongOf(
      type,
      'U',
      breaks(oc, surface.NbUIntervals(smooth), (list) => surface.UIntervals(list, smooth)),
      spline ? { degree: surface.UDegree(), rational: surface.IsURational() } : null,
    )
    const v = alongOf(
      type,
      'V',
      breaks(oc, surface.NbVIntervals(smooth), (list) => surface.VIntervals(list, smooth)),
      spline ? { degree: surface.VDegree(), rational: surface.IsVRational() } : null,
    )
    const cost = (a: Along) => (a.knots.length - 1) * a.places
    this.by = cost(v) < cost(u) ? 'V' : 'U'
    this.along = this.by === 'V' ? v : u
    const other = this.by === 'V' ? u : v
    this.knots = other.knots
    this.places = other.places
    this.evaluate = evaluatorOf(oc, surface)
  }

  /** Adds what the surface is at one place, times a weight. */
  private add(s: number, at: number, w: number): void {
    const { place: d, strip: out } = this
    if (this.by === 'V') this.evaluate(at, s, d)
    else this.evaluate(s, at, d)
    const [x, y, z] = [d[0] - this.origin[0], d[1] - this.origin[1], d[2] - this.origin[2]]
    const [ux, uy, uz, vx, vy, vz] = [d[3], d[4], d[5], d[6], d[7], d[8]]
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const area = w * Math.sqrt(nx * nx + ny * ny + nz * nz)
    const cone = (w * (x * nx + y * ny + z * nz)) / 3
    out[0] += area
    out[1] += area * x
    out[2] += area * y
    out[3] += area * z
    out[4] += cone
    out[5] += 0.75 * cone * x
    out[6] += 0.75 * cone * y
    out[7] += 0.75 * cone * z
  }

  private stretch(from: number, to: number, at: number): void {
    if (from === to) return
    const rule = gaussRule(this.along.places)
    const [middle, half] = [(from + to) / 2, (to - from) / 2]
    for (let i = 0; i < rule.at.length; i++) this.add(middle + half * rule.at[i], at, half * rule.weight[i])
  }

  /** Adds the sums of the whole surface: of a face that nothing bounds. */
  whole(total: Float64Array, within: readonly number[]): void {
    const end = this.along.knots[this.along.knots.length - 1]
    const each: Integrand = (t, w, out) => {
      this.sumTo(end, t)
      for (let k = 0; k < 8; k++) out[k] += w * this.strip[k]
    }
    for (let i = 0; i + 1 < this.knots.length; i++) integrate(each, this.knots[i], this.knots[i + 1], within, total)
  }

  /** The sums across at a place of the other parameter, from the first bound to `end`, into `strip`. */
  sumTo(end: number, at: number): void {
    this.strip.fill(0)
    const { knots } = this.along
    // Borders may run a little outside of the surface's own bounds.
    if (end <= knots[0]) return this.stretch(knots[0], end, at)
    for (let i = 0; i + 1 < knots.length; i++) {
      const last = i + 2 === knots.length
      if (last || knots[i + 1] >= end) return this.stretch(knots[i], end, at)
      this.stretch(knots[i], knots[i + 1], at)
    }
  }
}

/** Where a border crosses the bounds of smooth parts of a surface, between two parameters of the border: by halving. */
function crossings(at: (t: number) => number, from: number, to: number, knots: readonly number[]): number[] {
  const [a, b] = [at(from), at(to)]
  const out: number[] = []
  for (const k of knots) {
    if ((a - k) * (b - k) >= 0) continue
    let [low, high] = [from, to]
    for (let step = 0; step < 50 && high - low > 1e-14 * Math.abs(to - from); step++) {
      const middle = (low + high) / 2
      if ((at(middle) - k) * (a - k) > 0) low = middle
      else high = middle
    }
    out.push((low + high) / 2)
  }
  return out.sort((p, q) => p - q)
}

/** Whether a border keeps the parameter that sums across run along, so that what is summed along it is as smooth as the surface. */
function runsAlong(border: BRepAdaptor_Curve2d, byV: boolean): boolean {
  if (String(border.GetType()) !== 'GeomAbs_Line') return false
  const way = border.EvalDN(border.FirstParameter(), 1)
  return Math.abs(byV ? way.Y() : way.X()) < 1e-14
}

/** Of any other face, along its borders in the plane of its parameters. */
function curvedSums(
  oc: Kernel,
  face: TopoDS_Face,
  surface: BRepAdaptor_Surface,
  origin: Vec3,
  size: number,
  far: number,
): FaceSums {
  const across = new Across(oc, surface, origin)
  const area = share * size * size
  const within = [area, ...[1, 2, 3, 4].map(() => area * far), ...[1, 2, 3].map(() => area * far * far)]
  const total = new Float64Array(8)
  const q = new oc.gp_Pnt2d(),
    dq = new oc.gp_Vec2d()
  const byV = across.by === 'V'
  const borders = bordersOf(oc, face)
  if (!borders.length) across.whole(total, within)
  for (const { edge, way } of borders) {
    const border = new oc.BRepAdaptor_Curve2d(edge, face)
    const sign = byV ? -way : way
    const round: Integrand = (t, w, out) => {
      border.D1(t, q, dq)
      const speed = byV ? dq.X() : dq.Y()
      if (speed === 0) return
      across.sumTo(byV ? q.Y() : q.X(), byV ? q.X() : q.Y())
      for (let k = 0; k < 8; k++) out[k] += sign * w * speed * across.strip[k]
    }
    const along = thinned(breaks(oc, border.NbIntervals(smooth), (list) => border.Intervals(list, smooth)))
    const straight = runsAlong(border, byV)
    const place = (t: number) => {
      border.D0(t, q)
      return byV ? q.X() : q.Y()
    }
    for (let i = 0; i + 1 < along.length; i++) {
      const stops = [along[i], ...crossings(place, along[i], along[i + 1], across.knots), along[i + 1]]
      for (let k = 0; k + 1 < stops.length; k++)
        if (straight) sumUp(round, stops[k], stops[k + 1], across.places, total)
        else integrate(round, stops[k], stops[k + 1], within, total)
    }
  }
  const [sum, ax, ay, az, volume, x, y, z] = total
  return { area: sum, areaMoment: [ax, ay, az], volume, volumeMoment: [x, y, z] }
}
