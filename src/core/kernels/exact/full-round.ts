/** The top of a wall rounded from side to side: half a round of exactly the wall's width. */
import type { TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import {
  addScaled,
  cross,
  distance,
  dot,
  length,
  normalize,
  perpendicular,
  scale,
  sub,
  type Vec3,
} from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import { filletEdges } from './fillet'
import { roughVolume } from './mass'
import type { Kernel } from './kernel'
import type { Named } from './names'
import { curveOf, keptOf, listOf, nearestOn, wiresOf } from './queries'
import { withKernel } from './scope'
import { pointOf } from './wires'

export interface Rounded {
  readonly body: ExactBody
  /** Width of the wall, mm: the round's diameter. */
  readonly width: number
  /** Width of the flat strip that is left along the middle where the round was made of two fillets, mm; 0 where it is one round. */
  readonly strip: number
}

/** What a rim is: the edges of its two sides, its width all along, and whether both walls stand square to it. */
interface RimForm {
  readonly sides: readonly [readonly number[], readonly number[]]
  readonly width: number
  /** It runs round; else it has ends. */
  readonly round: boolean
  readonly square: boolean
  /** Angles inside the body between the rim and its two walls, radians. */
  readonly angles: readonly [number, number]
}

const noRim = (part: { name: string; at: Vec3 }, why: string) =>
  new StepError('no-rim', `"${part.name}" is no rim that can be rounded from side to side: ${why}.`, {
    where: { point: part.at },
    tryThis: 'Pick the flat top of a wall that is equally thick all along, or round its edges by a radius.',
  })

function formOf(oc: Kernel, body: ExactBody, shape: TopoDS_Shape, face: number): RimForm {
  const part = body.parts.faces[face]
  if (part.shape !== 'plane' || !part.axis) throw noRim(part, `it is not flat (${part.shape})`)
  const n = part.axis
  const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
  const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE')
  const wires = wiresOf(oc, faces[face])
  const numbers = (of: TopoDS_Shape) => new ShapeIndex(oc, of, 'TopAbs_EDGE').list.map((e) => edges.indexOf(e))
  let sides: [number[], number[]]
  if (wires.length === 2) sides = [numbers(wires[0]), numbers(wires[1])]
  else if (wires.length === 1 && numbers(wires[0]).length === 4) {
    // The two longer of four are its sides, the shorter its ends.
    const four = numbers(wires[0]).sort((a, b) => body.parts.edges[b].length - body.parts.edges[a].length)
    sides = [[four[0]], [four[1]]]
  } else throw noRim(part, `it has ${wires.length === 1 ? 'no second side' : `${wires.length} borders`}`)
  const builder = new oc.TopoDS_Builder()
  const widths: number[] = []
  const compound = (side: readonly number[]) => {
    const all = new oc.TopoDS_Compound()
    builder.MakeCompound(all)
    for (const i of side) builder.Add(all, edges.list[i])
    return all
  }
  // Angle inside the body between the rim and each wall, radians: the one farthest from square.
  const angles = sides.map((side, k) => {
    const across = compound(sides[1 - k])
    let worst = Math.PI / 2
    for (const i of side) {
      const { at } = curveOf(oc, oc.TopoDS.Edge(edges.list[i]))
      const wall = body.parts.edges[i].faces.find((f) => f !== face)
      if (wall === undefined) throw noRim(part, 'no wall stands under it')
      for (const t of [0.13, 0.5, 0.87]) {
        const p = at(t)
        const over = sub(nearestOn(oc, across, p).at, p)
        widths.push(length(over))
        const down = sub(nearestOn(oc, faces[wall], addScaled(p, n, -1e-2 * length(over))).at, p)
        const angle = Math.acos(Math.max(-1, Math.min(1, dot(normalize(down), normalize(over)))))
        if (Math.abs(angle - Math.PI / 2) > Math.abs(worst - Math.PI / 2)) worst = angle
      }
    }
    return worst
  })
  const [low, high] = [Math.min(...widths), Math.max(...widths)]
  if (high - low > 2e-3 * high) throw noRim(part, `it is between ${num(low)} and ${num(high)} mm wide`)
  const width = (low + high) / 2
  return {
    sides,
    width,
    round: wires.length === 2,
    square: angles.every((a) => Math.abs(a - Math.PI / 2) < 1e-4),
    angles: angles as [number, number],
  }
}

/** Half a disc over the rim's plane, square to the way the rim runs, as a face. */
function halfDisc(oc: Kernel, middle: Vec3, across: Vec3, up: Vec3, r: number) {
  const [a, b, top] = [addScaled(middle, across, -r), addScaled(middle, across, r), addScaled(middle, up, r)]
  const arc = new oc.GC_MakeArcOfCircle(pointOf(oc, a), pointOf(oc, top), pointOf(oc, b)).Value()
  const wire = new oc.BRepBuilderAPI_MakeWire()
  wire.Add(new oc.BRepBuilderAPI_MakeEdge(arc).Edge())
  wire.Add(new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, b), pointOf(oc, a)).Edge())
  return { wire: wire.Wire(), face: new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true).Face() }
}

/** A round, and how far off its sides lie from where they should, mm. */
interface Round {
  readonly shape: TopoDS_Shape
  readonly off: number
}

/** A half disc turned right round an axis. */
function ring(oc: Kernel, centre: Vec3, axis: Vec3, radius: number, r: number): Round {
  const across = perpendicular(axis)
  const disc = halfDisc(oc, addScaled(centre, across, radius), across, axis, r)
  const about = new oc.gp_Ax1(pointOf(oc, centre), new oc.gp_Dir(...axis))
  return { shape: new oc.BRepPrimAPI_MakeRevol(disc.face, about, false).Shape(), off: 0 }
}

/** A half disc carried along the outer border of a rim, down by half the width; `inward` from the border to the other side. */
function along(oc: Kernel, outer: TopoDS_Wire, n: Vec3, r: number, failed: StepError): Round {
  const shift = new oc.gp_Trsf()
  shift.SetTranslation(new oc.gp_Vec(...scale(n, -r)))
  const spine = oc.TopoDS.Wire(new oc.BRepBuilderAPI_Transform(outer, shift, true).Shape())
  const first = oc.TopoDS.Edge(new ShapeIndex(oc, spine, 'TopAbs_EDGE').list[0])
  const { at, way } = curveOf(oc, first)
  const forward = String(first.Orientation()) === 'TopAbs_FORWARD'
  // The border runs so that the rim lies to its left, seen from above.
  const inward = scale(normalize(cross(n, way(0))), forward ? 1 : -1)
  const disc = halfDisc(oc, addScaled(at(0), inward, r), inward, n, r)
  const sweep = new oc.BRepOffsetAPI_MakePipeShell(spine)
  sweep.SetMode(new oc.gp_Dir(...n))
  sweep.SetTransitionMode('BRepBuilderAPI_RightCorner' as never)
  sweep.Add(disc.wire, false, false)
  sweep.Build(new oc.Message_ProgressRange())
  if (!sweep.IsDone() || !sweep.MakeSolid()) throw failed
  return { shape: sweep.Shape(), off: sweep.ErrorOnSurface() }
}

/** One round: the rim is lowered by half its width, and half discs are carried along its middle on what is left. */
function oneRound(oc: Kernel, body: ExactBody, face: number, form: RimForm): ExactBody {
  const input = namedShape(oc, body)
  const part = body.parts.faces[face]
  const n = part.axis!
  const r = form.width / 2
  const faces = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
  const edges = new ShapeIndex(oc, input.shape, 'TopAbs_EDGE').list
  const failed = noRim(part, 'the round does not come together')
  const range = () => new oc.Message_ProgressRange()
  const down = scale(n, -r)
  const slab = new oc.BRepPrimAPI_MakePrism(faces[face], new oc.gp_Vec(...down), false, true)
  const lowered = runBuilder(oc, new oc.BRepAlgoAPI_Cut(input.shape, slab.Shape(), range()), {
    failed,
    inputs: [input, { shape: slab.Shape(), names: namesFor(oc, slab.Shape(), [[slab.LastShape(), part.name]]) }],
    unify: true,
  })
  let made: Round
  if (form.round) {
    const outer = oc.BRepTools.OuterWire(oc.TopoDS.Face(faces[face]))
    const border = new ShapeIndex(oc, outer, 'TopAbs_EDGE').list
    const circle =
      border.length === 1 ? body.parts.edges[new ShapeIndex(oc, input.shape, 'TopAbs_EDGE').indexOf(border[0])] : null
    made =
      circle?.shape === 'circle' && circle.centre && circle.radius
        ? ring(oc, addScaled(circle.centre, n, -r), n, circle.radius - r, r)
        : along(oc, outer, n, r, failed)
  } else {
    const [a, b] = form.sides.map(([i]) => curveOf(oc, oc.TopoDS.Edge(edges[i])))
    const from = addScaled(a.at(0), n, -r)
    const far = distance(b.at(0), a.at(0)) < distance(b.at(1), a.at(0)) ? b.at(0) : b.at(1)
    const middle = scale([0, 1, 2].map((k) => from[k] + far[k] - r * n[k]) as unknown as Vec3, 0.5)
    const disc = halfDisc(oc, middle, normalize(sub(addScaled(far, n, -r), from)), n, r)
    const kind = body.parts.edges[form.sides[0][0]]
    if (kind.shape === 'line') {
      const run = sub(a.at(1), a.at(0))
      made = { shape: new oc.BRepPrimAPI_MakePrism(disc.face, new oc.gp_Vec(...run), false, true).Shape(), off: 0 }
    } else if (kind.shape === 'circle' && kind.centre && kind.axis) {
      const [p, q, m] = [a.at(0), a.at(1), a.at(0.5)].map((x) => sub(x, kind.centre!))
      const angle = Math.acos(Math.max(-1, Math.min(1, dot(normalize(p), normalize(q)))))
      const half = Math.acos(Math.max(-1, Math.min(1, dot(normalize(p), normalize(m)))))
      const sweep = half > Math.PI / 2 ? 2 * Math.PI - angle : angle
      const way = dot(cross(p, m), kind.axis) > 0 ? kind.axis : scale(kind.axis, -1)
      const axis = new oc.gp_Ax1(pointOf(oc, kind.centre), new oc.gp_Dir(...way))
      made = { shape: new oc.BRepPrimAPI_MakeRevol(disc.face, axis, sweep, false).Shape(), off: 0 }
    } else throw failed
  }
  const round = made.shape
  const top: Named = {
    shape: roughVolume(oc, round) < 0 ? round.Reversed() : round,
    names: new ShapeIndex(oc, round, 'TopAbs_FACE').list.map(() => `round(${part.name})`),
  }
  const op = new oc.BRepAlgoAPI_Fuse()
  op.SetArguments(listOf(oc, [lowered.shape]))
  op.SetTools(listOf(oc, [top.shape]))
  // Swept sides lie on the walls to within the sweep's own tolerance.
  if (made.off > 1e-7) op.SetFuzzyValue(5 * made.off)
  op.Build(range())
  const fused = runBuilder(oc, op, { failed, inputs: [lowered, top], unify: true })
  return finish(oc, fused.shape, {
    what: 'Full round',
    names: fused.names,
    prefix: 'round/',
    ...keptOf(body),
  })
}

/**
 * The flat top of a wall rounded from side to side. Walls that stand square to it get one exact round; where they lean, two fillets
 * that leave a strip along the middle too narrow to matter.
 * Throws StepError `no-rim`.
 */
export async function fullRound(body: ExactBody, face: number, work: Work = quiet): Promise<Rounded> {
  const part = body.parts.faces[face]
  const form = await withKernel('Full round', (oc) => formOf(oc, body, namedShape(oc, body).shape, face))
  // What a fillet between two faces takes away, of its radius squared: cot(a / 2) - (pi - a) / 2, a their angle inside.
  const corner = (a: number) => 1 / Math.tan(a / 2) - (Math.PI - a) / 2
  const radius = form.width / form.angles.reduce((s, a) => s + 1 / Math.tan(a / 2), 0)
  const goes = (part.area / form.width) * radius ** 2 * form.angles.reduce((s, a) => s + corner(a), 0)
  const plausible = (made: ExactBody) =>
    made.facts.pieces === body.facts.pieces && Math.abs(body.facts.volume - made.facts.volume - goes) < 0.1 * goes
  if (form.square) {
    try {
      const made = await withKernel('Full round', (oc) => oneRound(oc, body, face, form))
      if (plausible(made)) return { body: made, width: form.width, strip: 0 }
    } catch (error) {
      if (!(error instanceof StepError) || error.code === 'out-of-memory') throw error
    }
  }
  for (const short of [1e-4, 1e-3, 1e-2])
    try {
      const size = radius * (1 - short)
      const made = await filletEdges(body, [{ edges: [...form.sides[0], ...form.sides[1]], size }], work)
      if (plausible(made)) return { body: made, width: form.width, strip: form.width * short }
    } catch (error) {
      if (!(error instanceof StepError) || error.code !== 'too-large') throw error
    }
  throw noRim(part, 'neither one round nor two meet on it')
}
