/** Half a round over the top of a wall: a half disc turned, pushed, or carried along the wall's outer border, corner by corner. */
import type { TopoDS_Edge, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import type { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { add, addScaled, cross, distance, dot, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { curveOf, nearestOn } from './queries'
import { pointOf } from './wires'

/** A round, and how far off its sides lie from where they should, mm. */
export interface Round {
  readonly shape: TopoDS_Shape
  readonly off: number
}

/** Half a disc over a plane, square to the way a wall runs, as a face. */
function halfDisc(oc: Kernel, middle: Vec3, across: Vec3, up: Vec3, r: number) {
  // By its axes, not through three places: only then does the kernel know the pushed arc as a cylinder and the turned one as a torus.
  const axes = new oc.gp_Ax2(
    pointOf(oc, middle),
    new oc.gp_Dir(...normalize(cross(across, up))),
    new oc.gp_Dir(...across),
  )
  const arc = new oc.BRepBuilderAPI_MakeEdge(new oc.gp_Circ(axes, r), 0, Math.PI).Edge()
  const wire = new oc.BRepBuilderAPI_MakeWire()
  wire.Add(arc)
  const [a, b] = [addScaled(middle, across, -r), addScaled(middle, across, r)]
  wire.Add(new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, a), pointOf(oc, b)).Edge())
  return { wire: wire.Wire(), face: new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true).Face() }
}

/** A half disc turned right round an axis. */
export function ring(oc: Kernel, centre: Vec3, axis: Vec3, radius: number, r: number): Round {
  const across = perpendicular(axis)
  const disc = halfDisc(oc, addScaled(centre, across, radius), across, axis, r)
  const about = new oc.gp_Ax1(pointOf(oc, centre), new oc.gp_Dir(...axis))
  return { shape: new oc.BRepPrimAPI_MakeRevol(disc.face, about, false).Shape(), off: 0 }
}

/** One edge of a border: a line, or an arc of a circle. */
type Kind = ExactBody['parts']['edges'][number]

/** A half disc that begins between two places and is pushed along a line, or turned along an arc; null for other curves. */
export function between(oc: Kernel, kind: Kind, edge: TopoDS_Edge, from: Vec3, to: Vec3, n: Vec3, r: number) {
  const { at } = curveOf(oc, edge)
  const disc = halfDisc(oc, scale(add(from, to), 0.5), normalize(sub(to, from)), n, r)
  const backward = distance(at(1), from) < distance(at(0), from)
  const place = (t: number) => at(backward ? 1 - t : t)
  if (kind.shape === 'line')
    return new oc.BRepPrimAPI_MakePrism(disc.face, new oc.gp_Vec(...sub(place(1), place(0))), false, true).Shape()
  if (kind.shape !== 'circle' || !kind.centre || !kind.axis) return null
  const [axis, angle] = turnOf(place, kind.centre, kind.axis)
  const about = new oc.gp_Ax1(pointOf(oc, kind.centre), new oc.gp_Dir(...axis))
  return new oc.BRepPrimAPI_MakeRevol(disc.face, about, angle, false).Shape()
}

/** Axis and angle by which an arc is run through. */
function turnOf(at: (t: number) => Vec3, centre: Vec3, axis: Vec3): [Vec3, number] {
  const [p, q, m] = [0, 1, 0.5].map((t) => {
    const x = sub(at(t), centre)
    return addScaled(x, axis, -dot(x, axis))
  })
  const angleTo = (x: Vec3) => Math.acos(Math.max(-1, Math.min(1, dot(normalize(p), normalize(x)))))
  const angle = angleTo(m) > Math.PI / 2 ? 2 * Math.PI - angleTo(q) : angleTo(q)
  return [dot(cross(p, m), axis) > 0 ? axis : scale(axis, -1), angle]
}

/** One edge of a closed border in the way it runs. */
interface Run {
  readonly edge: TopoDS_Edge
  readonly kind: Kind
  at(t: number): Vec3
  way(t: number): Vec3
}

/** Where a curve goes, to the last digit for lines and arcs: what is pushed askew by 1e-11 is no cylinder any more. */
function exactWay(kind: Kind, at: Run['at'], way: Run['way']): Run['way'] {
  if (kind.shape === 'line') {
    const straight = normalize(sub(at(1), at(0)))
    return () => straight
  }
  const { centre, axis } = kind
  if (kind.shape !== 'circle' || !centre || !axis) return way
  return (t) => {
    const tangent = normalize(cross(axis, sub(at(t), centre)))
    return dot(tangent, way(t)) > 0 ? tangent : scale(tangent, -1)
  }
}

/** Edges of a closed border one after the other. */
function inOrder(oc: Kernel, edges: readonly TopoDS_Edge[], kinds: readonly Kind[]): Run[] {
  const left = edges.map((edge, i) => {
    const { at, way } = curveOf(oc, edge)
    return { edge, kind: kinds[i], at, way: exactWay(kinds[i], at, way) }
  })
  const turned = (r: (typeof left)[number]): (typeof left)[number] => ({
    ...r,
    at: (t) => r.at(1 - t),
    way: (t) => scale(r.way(1 - t), -1),
  })
  const runs = [left.shift()!]
  while (left.length) {
    const end = runs[runs.length - 1].at(1)
    const far = left.map((e) => Math.min(distance(e.at(0), end), distance(e.at(1), end)))
    const [next] = left.splice(far.indexOf(Math.min(...far)), 1)
    runs.push(distance(next.at(0), end) <= distance(next.at(1), end) ? next : turned(next))
  }
  return runs
}

/** Directions nearer to each other than this run on smoothly. */
const smooth = 1e-6

/**
 * A round for each line and arc of a closed border, cut where two lines meet at the plane that halves their angle (a mitre, as the wall's
 * other side has it). Null where the border has other curves, or corners at arcs.
 *
 * @param border edges of the outer border, lowered to the plane on which the round stands
 * @param inner the other border, not lowered
 */
export function piecewise(
  oc: Kernel,
  border: readonly TopoDS_Edge[],
  kinds: readonly Kind[],
  inner: TopoDS_Shape,
  n: Vec3,
  r: number,
): TopoDS_Shape[] | null {
  const runs = inOrder(oc, border, kinds)
  const size = 4 * r + runs.reduce((s, { at }) => Math.max(s, distance(at(0), runs[0].at(0))), 0)
  const first = runs[0]
  const p = addScaled(first.at(0.5), n, r)
  const side = cross(n, first.way(0.5))
  const left = dot(sub(nearestOn(oc, inner, p).at, p), side) > 0 ? 1 : -1
  /** The half of space past a corner, toward `way`. */
  const past = (corner: Vec3, way: Vec3) => {
    const plane = new oc.gp_Pln(pointOf(oc, corner), new oc.gp_Dir(...way))
    const face = new oc.BRepBuilderAPI_MakeFace(plane, -size, size, -size, size).Face()
    return new oc.BRepPrimAPI_MakePrism(face, new oc.gp_Vec(...scale(way, size)), false, true).Shape()
  }
  const pieces: TopoDS_Shape[] = []
  for (const [i, run] of runs.entries()) {
    const before = runs[(i + runs.length - 1) % runs.length]
    const after = runs[(i + 1) % runs.length]
    const start = add(before.way(1), run.way(0))
    const end = add(run.way(1), after.way(0))
    const sharp = [start, end].map((w) => Math.hypot(...w) < 2 - smooth)
    const inward = scale(cross(n, run.way(0)), left)
    const [from, to] = [run.at(0), addScaled(run.at(0), inward, 2 * r)]
    if (!sharp[0] && !sharp[1]) {
      const piece = between(oc, run.kind, run.edge, from, to, n, r)
      if (!piece) return null
      pieces.push(piece)
      continue
    }
    if (run.kind.shape !== 'line') return null
    // Longer than the edge by what a mitre takes from it or gives to it.
    const over = [start, end].map((w, k) => {
      const half = Math.acos(Math.min(1, Math.hypot(...w) / 2))
      return sharp[k] ? 2 * r * Math.tan(half) + r : 0
    })
    const along = run.way(0.5)
    const disc = halfDisc(oc, addScaled(scale(add(from, to), 0.5), along, -over[0]), inward, n, r)
    const length = distance(run.at(0), run.at(1)) + over[0] + over[1]
    let piece = new oc.BRepPrimAPI_MakePrism(disc.face, new oc.gp_Vec(...scale(along, length)), false, true).Shape()
    for (const [k, way] of [start, end].entries()) {
      if (!sharp[k]) continue
      const beyond = past(run.at(k), scale(normalize(way), k ? 1 : -1))
      piece = new oc.BRepAlgoAPI_Cut(piece, beyond, new oc.Message_ProgressRange()).Shape()
    }
    pieces.push(piece)
  }
  return pieces
}

/** A half disc swept along a closed border of any curves; throws `failed` where it cannot be. */
export function swept(
  oc: Kernel,
  spine: TopoDS_Wire,
  inner: TopoDS_Shape,
  n: Vec3,
  r: number,
  failed: StepError,
): Round {
  const { at, way } = curveOf(oc, oc.TopoDS.Edge(new ShapeIndex(oc, spine, 'TopAbs_EDGE').list[0]))
  const p = addScaled(at(0), n, r)
  const side = normalize(cross(n, way(0)))
  const inward = dot(sub(nearestOn(oc, inner, p).at, p), side) > 0 ? side : scale(side, -1)
  const disc = halfDisc(oc, addScaled(at(0), inward, r), inward, n, r)
  const sweep = new oc.BRepOffsetAPI_MakePipeShell(spine)
  sweep.SetMode(new oc.gp_Dir(...n))
  sweep.SetTransitionMode('BRepBuilderAPI_RightCorner' as never)
  sweep.Add(disc.wire, false, false)
  sweep.Build(new oc.Message_ProgressRange())
  if (!sweep.IsDone() || !sweep.MakeSolid()) throw failed
  return { shape: sweep.Shape(), off: sweep.ErrorOnSurface() }
}
