/**
 * A smooth loft that is held square to its first and last section. The kernel makes sections of any number of curves fit each other; the
 * rows of control points at the sections are then joined by cubics of continuous curvature with given end derivatives (clamped cubic
 * spline interpolation: de Boor 1978, A Practical Guide to Splines, ch. IV).
 */
import type { TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import type { StepError } from '@/core/base/step-error'
import { distance, dot, scale, sub, type Vec3 } from '@/core/math/vec'
import type { Profile } from '@/core/outline/profile'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import type { Named } from './names'
import { sewn } from './sheets'

/** A control point times its weight, and the weight. */
type Row = readonly (readonly [number, number, number, number])[]

/** Derivatives at the places of a cubic spline of continuous curvature; `null` ends are left free (no curvature there). */
function derivatives(
  values: readonly number[],
  t: readonly number[],
  start: number | null,
  end: number | null,
): number[] {
  const n = values.length
  const lower = new Float64Array(n),
    middle = new Float64Array(n),
    upper = new Float64Array(n),
    right = new Float64Array(n)
  const h = (i: number) => t[i + 1] - t[i]
  const slope = (i: number) => (values[i + 1] - values[i]) / h(i)
  for (let i = 1; i < n - 1; i++) {
    lower[i] = h(i)
    middle[i] = 2 * (h(i - 1) + h(i))
    upper[i] = h(i - 1)
    right[i] = 3 * (h(i) * slope(i - 1) + h(i - 1) * slope(i))
  }
  ;[middle[0], upper[0], right[0]] = start === null ? [2, 1, 3 * slope(0)] : [1, 0, start]
  ;[lower[n - 1], middle[n - 1], right[n - 1]] = end === null ? [1, 2, 3 * slope(n - 2)] : [0, 1, end]
  // Thomas' elimination: the rows are dominated by their middles.
  for (let i = 1; i < n; i++) {
    const f = lower[i] / middle[i - 1]
    middle[i] -= f * upper[i - 1]
    right[i] -= f * right[i - 1]
  }
  const out = new Array<number>(n)
  for (let i = n - 1; i >= 0; i--) out[i] = (right[i] - (i < n - 1 ? upper[i] * out[i + 1] : 0)) / middle[i]
  return out
}

/** The same where the last value is the first again and the spline runs on over it. */
function roundDerivatives(values: readonly number[], t: readonly number[]): number[] {
  // A few turns of an open spline settle to the round one: what its ends do falls off by a factor of about four a place.
  const n = values.length - 1
  const turns = 2 * Math.ceil(30 / n) + 1
  const all: number[] = [],
    at: number[] = []
  for (let r = 0; r < turns; r++)
    for (let i = 0; i < n; i++) {
      all.push(values[i])
      at.push(r * (t[n] - t[0]) + t[i])
    }
  const d = derivatives(all, at, null, null)
  const from = n * ((turns - 1) / 2)
  return Array.from({ length: n + 1 }, (_, i) => d[from + (i % n)])
}

interface Section {
  readonly wire: TopoDS_Wire
  readonly profile: Profile
}

/**
 * @param start, end how firmly it stands square there: derivative over mean speed; 0 as it likes
 * @param solid with its ends closed
 * @param round it runs on from the last section to the first, and has no ends
 */
export function heldLoft(
  oc: Kernel,
  given: readonly Section[],
  start: number,
  end: number,
  solid: boolean,
  name: string,
  failed: StepError,
  round = false,
): Named {
  const sections = round ? [...given, given[0]] : given
  const last = sections.length - 1
  const middles = sections.map((s) => s.profile.middle)
  const t = [0]
  for (let i = 1; i <= last; i++) t.push(t[i - 1] + distance(middles[i], middles[i - 1]))
  /** From a section's plane toward the other sections, unit. */
  const way = (from: number, to: number): Vec3 => {
    const n = sections[from].profile.plane.normal
    return dot(sub(middles[to], middles[from]), n) < 0 ? scale(n, -1) : n
  }
  const ways = [way(0, 1), scale(way(last, last - 1), -1)]
  // Copies beside the ends make all of it B-splines that fit each other; they are not kept.
  const beside = (wire: TopoDS_Wire, by: Vec3) => {
    const shift = new oc.gp_Trsf()
    shift.SetTranslation(new oc.gp_Vec(...by))
    return oc.TopoDS.Wire(new oc.BRepBuilderAPI_Transform(wire, shift, true).Shape())
  }
  const step = 0.05 * t[last]
  const op = new oc.BRepOffsetAPI_ThruSections(false, false, 1e-6)
  const wires = sections.map((s) => s.wire)
  op.AddWire(wires[0])
  if (!round) op.AddWire(beside(wires[0], scale(ways[0], Math.min(step, t[1] / 3))))
  for (const w of wires.slice(1)) op.AddWire(w)
  op.CheckCompatibility(true)
  op.Build(new oc.Message_ProgressRange())
  if (!op.IsDone()) throw failed
  const faces: [TopoDS_Shape, string][] = new ShapeIndex(oc, op.Shape(), 'TopAbs_FACE').list.map((face) => {
    const a = new oc.BRepAdaptor_Surface(oc.TopoDS.Face(face), true)
    if (String(a.GetType()) !== 'GeomAbs_BSplineSurface') throw failed
    return [held(oc, a, sections, t, ways, [start, end], round), `${name}/side`]
  })
  if (solid && !round)
    for (const [k, word] of [
      [0, 'first'],
      [last, 'last'],
    ] as const)
      faces.push([new oc.BRepBuilderAPI_MakeFace(wires[k], true).Face(), `${name}/${word}`])
  const all = sewn(oc, faces, 'Loft', 1e-4)
  if (solid && !all.closed) throw failed
  return all
}

/** The row of control points, with their weights, of the curve at a height of a surface, by de Boor's algorithm. */
function rowsOf(s: InstanceType<Kernel['Geom_BSplineSurface']>): (v: number) => number[][] {
  const [nu, nv, degree] = [s.NbUPoles(), s.NbVPoles(), s.VDegree()]
  const knots: number[] = []
  for (let i = 1; i <= s.NbVKnots(); i++) for (let k = 0; k < s.VMultiplicity(i); k++) knots.push(s.VKnot(i))
  const grid = Array.from({ length: nv }, (_, j): Row =>
    Array.from({ length: nu }, (_, i) => {
      const p = s.Pole(i + 1, j + 1)
      const w = s.Weight(i + 1, j + 1)
      return [w * p.X(), w * p.Y(), w * p.Z(), w] as const
    }),
  )
  return (v) => {
    let span = degree
    while (span < nv - 1 && v >= knots[span + 1]) span++
    const d = Array.from({ length: degree + 1 }, (_, j) => grid[span - degree + j].map((p) => [...p]))
    for (let r = 1; r <= degree; r++)
      for (let j = degree; j >= r; j--) {
        const [low, high] = [knots[span - degree + j], knots[span + 1 + j - r]]
        const f = (v - low) / (high - low)
        d[j] = d[j].map((p, i) => p.map((x, k) => (1 - f) * d[j - 1][i][k] + f * x))
      }
    return d[degree]
  }
}

function doubles(oc: Kernel, values: readonly number[]) {
  const list = new oc.NCollection_Array1_double(1, values.length)
  values.forEach((v, i) => list.SetValue(i + 1, v))
  return list
}

function integers(oc: Kernel, values: readonly number[]) {
  const list = new oc.NCollection_Array1_int(1, values.length)
  values.forEach((v, i) => list.SetValue(i + 1, v))
  return list
}

/** One strip of the loft, its rows laid anew. */
function held(
  oc: Kernel,
  a: InstanceType<Kernel['BRepAdaptor_Surface']>,
  sections: readonly Section[],
  t: readonly number[],
  ways: readonly Vec3[],
  [start, end]: readonly number[],
  round: boolean,
) {
  const s = a.BSpline()
  const nu = s.NbUPoles()
  const rows = rowsAtSections(a, sections, t, round)
  const count = 2 * rows.length
  const poles = new oc.NCollection_Array2_gp_Pnt(1, nu, 1, count)
  const weights = new oc.NCollection_Array2_double(1, nu, 1, count)
  for (let i = 0; i < nu; i++) {
    const column = rows.map((r) => r[i])
    // Of a square end the weight does not change, so that the curve itself leaves along the normal.
    const ends = [start, end].map((firm, e) => {
      const w = column[e ? column.length - 1 : 0][3]
      return firm ? [...ways[e].map((x) => w * firm * x), 0] : [null, null, null, null]
    })
    const slopes = [0, 1, 2, 3].map((k) => {
      const values = column.map((p) => p[k])
      return round ? roundDerivatives(values, t) : derivatives(values, t, ends[0][k], ends[1][k])
    })
    const put = (j: number, p: readonly number[]) => {
      poles.SetValue(i + 1, j, new oc.gp_Pnt(p[0] / p[3], p[1] / p[3], p[2] / p[3]))
      weights.SetValue(i + 1, j, p[3])
    }
    column.forEach((p, k) => {
      const [before, after] = [t[k] - (t[k - 1] ?? t[k]), (t[k + 1] ?? t[k]) - t[k]]
      const beside = (by: number) => p.map((x, c) => x + (by / 3) * slopes[c][k])
      if (k === 0) put(1, p)
      else put(2 * k + 1, beside(-before))
      if (k === column.length - 1) put(count, p)
      else put(2 * k + 2, beside(after))
    })
  }
  const own = Array.from({ length: s.NbUKnots() }, (_, i) => i + 1)
  const knots = own.map((i) => s.UKnot(i))
  const often = own.map((i) => s.UMultiplicity(i))
  const oftenAlong = t.map((_, k) => (k === 0 || k === t.length - 1 ? 4 : 2))
  const surface = new oc.Geom_BSplineSurface(
    poles,
    weights,
    doubles(oc, knots),
    doubles(oc, t),
    integers(oc, often),
    integers(oc, oftenAlong),
    s.UDegree(),
    3,
    false,
    false,
  )
  return new oc.BRepBuilderAPI_MakeFace(surface, 1e-6).Face()
}

/** The rows of a strip's poles where it meets the planes of its sections. */
function rowsAtSections(
  a: InstanceType<Kernel['BRepAdaptor_Surface']>,
  sections: readonly Section[],
  t: readonly number[],
  round: boolean,
) {
  const rowAt = rowsOf(a.BSpline())
  const middle = (a.FirstUParameter() + a.LastUParameter()) / 2
  const [low, high] = [a.FirstVParameter(), a.LastVParameter()]
  return sections.map(({ profile: { plane } }, k) => {
    if (k === 0) return rowAt(low)
    if (k === sections.length - 1) return rowAt(high)
    const over = (v: number) => {
      const p = a.EvalD0(middle, v)
      return dot(sub([p.X(), p.Y(), p.Z()], plane.at), plane.normal)
    }
    // The strip meets each section's plane once between its ends; one that runs round, once about there.
    const share = (i: number, j: number) => low + ((high - low) * (t[i] + t[j])) / (2 * t[t.length - 1])
    let [from, to] = round ? [share(k - 1, k), share(k, k + 1)] : [low, high]
    const sign = Math.sign(over(from))
    for (let i = 0; i < 80; i++) {
      const m = (from + to) / 2
      if (Math.sign(over(m)) === sign) from = m
      else to = m
    }
    return rowAt((from + to) / 2)
  })
}
