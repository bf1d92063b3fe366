/** The top of a wall rounded from side to side: half a round of exactly the wall's width. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import { quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, distance, scale, type Vec3 } from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import { filletEdges, type EdgeSize } from './fillet'
import { between, piecewise, ring, swept } from './half-round'
import { roughVolume } from './mass'
import type { Kernel } from './kernel'
import type { Named } from './names'
import { curveOf, keptOf, listOf, wiresOf } from './queries'
import { isEven, noRim, rimForm, unevenRim, type RimForm } from './rim-form'
import { withKernel } from './scope'

export interface Rounded {
  readonly body: ExactBody
  /** Width of the wall, mm: the round's diameter. */
  readonly width: number
  /** Width of the flat strip that is left along the middle where the round was made of two fillets, mm; 0 where it is one round. */
  readonly strip: number
}

/** A rim that is as wide everywhere, mm. */
type EvenRim = Omit<RimForm, 'width'> & { readonly width: number }

/** What stands on the lowered rim: one round, or one for each edge of its border. */
function roundsOver(
  oc: Kernel,
  body: ExactBody,
  rim: TopoDS_Shape,
  edges: ShapeIndex,
  n: Vec3,
  form: EvenRim,
  failed: StepError,
): { pieces: TopoDS_Shape[]; off: number } {
  const r = form.width / 2
  const kindOf = (edge: TopoDS_Shape) => body.parts.edges[edges.indexOf(edge)]
  if (!form.round) {
    const [one, other] = form.sides.map(([i]) => oc.TopoDS.Edge(edges.list[i]))
    const [a, b] = [one, other].map((e) => curveOf(oc, e))
    const far = distance(b.at(0), a.at(0)) < distance(b.at(1), a.at(0)) ? b.at(0) : b.at(1)
    const [from, to] = [a.at(0), far].map((p) => addScaled(p, n, -r))
    const piece = between(oc, kindOf(one), one, from, to, n, r)
    if (!piece) throw failed
    return { pieces: [piece], off: 0 }
  }
  const outer = oc.BRepTools.OuterWire(oc.TopoDS.Face(rim))
  const border = new ShapeIndex(oc, outer, 'TopAbs_EDGE').list
  const kinds = border.map(kindOf)
  const [only] = kinds
  if (kinds.length === 1 && only.shape === 'circle' && only.centre && only.radius) {
    const { shape, off } = ring(oc, addScaled(only.centre, n, -r), n, only.radius - r, r)
    return { pieces: [shape], off }
  }
  const shift = new oc.gp_Trsf()
  shift.SetTranslation(new oc.gp_Vec(...scale(n, -r)))
  const lower = (shape: TopoDS_Shape) => new oc.BRepBuilderAPI_Transform(shape, shift, true).Shape()
  const inner = wiresOf(oc, rim).find((w) => !w.IsSame(outer))!
  const pieces = piecewise(
    oc,
    border.map((e) => oc.TopoDS.Edge(lower(e))),
    kinds,
    inner,
    n,
    r,
  )
  if (pieces) return { pieces, off: 0 }
  const { shape, off } = swept(oc, oc.TopoDS.Wire(lower(outer)), inner, n, r, failed)
  return { pieces: [shape], off }
}

/** One round: the rim is lowered by half its width, and half discs are carried along its middle on what is left. */
function oneRound(oc: Kernel, body: ExactBody, face: number, form: EvenRim): ExactBody {
  const input = namedShape(oc, body)
  const part = body.parts.faces[face]
  const n = part.axis!
  const r = form.width / 2
  const faces = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
  const edges = new ShapeIndex(oc, input.shape, 'TopAbs_EDGE')
  const failed = noRim(part, 'the round does not come together')
  const range = () => new oc.Message_ProgressRange()
  const down = scale(n, -r)
  const slab = new oc.BRepPrimAPI_MakePrism(faces[face], new oc.gp_Vec(...down), false, true)
  const lowered = runBuilder(oc, new oc.BRepAlgoAPI_Cut(input.shape, slab.Shape(), range()), {
    failed,
    inputs: [input, { shape: slab.Shape(), names: namesFor(oc, slab.Shape(), [[slab.LastShape(), part.name]]) }],
    unify: true,
  })
  const { pieces, off } = roundsOver(oc, body, faces[face], edges, n, form, failed)
  const tops = pieces.map((shape): Named => ({
    shape: roughVolume(oc, shape) < 0 ? shape.Reversed() : shape,
    names: new ShapeIndex(oc, shape, 'TopAbs_FACE').list.map(() => `round(${part.name})`),
  }))
  const op = new oc.BRepAlgoAPI_Fuse()
  op.SetArguments(listOf(oc, [lowered.shape]))
  op.SetTools(
    listOf(
      oc,
      tops.map((t) => t.shape),
    ),
  )
  // Swept sides lie on the walls to within the sweep's own tolerance.
  if (off > 1e-7) op.SetFuzzyValue(5 * off)
  op.Build(range())
  const fused = runBuilder(oc, op, { failed, inputs: [lowered, ...tops], unify: true })
  return finish(oc, fused.shape, {
    what: 'Full round',
    names: fused.names,
    prefix: 'round/',
    ...keptOf(body),
  })
}

/** What a fillet between two faces takes away for each mm along, of its radius squared; `a` their angle inside, radians. */
const cornerArea = (a: number) => 1 / Math.tan(a / 2) - (Math.PI - a) / 2

/** Radii of fillets over the edges of a rim that meet along its middle, and the volume that goes with them. */
function meeting(form: RimForm): { sizes: EdgeSize[]; goes: number } {
  const byRadius: { size: number; edges: number[] }[] = []
  let goes = 0
  for (const { edge, width, angles, length } of form.edges) {
    const size = (width ?? form.width[0]) / angles.reduce((s, a) => s + 1 / Math.tan(a / 2), 0)
    goes += length * size ** 2 * cornerArea(angles[0])
    const same = byRadius.find((r) => Math.abs(r.size - size) < 1e-6 * size)
    if (same) same.edges.push(edge)
    else byRadius.push({ size, edges: [edge] })
  }
  return { sizes: byRadius, goes }
}

/**
 * The flat top of a wall rounded from side to side. Walls that stand square to it get one exact round; where they lean, two fillets
 * that leave a strip along the middle too narrow to matter.
 * Throws StepError `no-rim`.
 */
export async function fullRound(body: ExactBody, face: number, work: Work = quiet): Promise<Rounded> {
  const part = body.parts.faces[face]
  const form = await withKernel('Full round', (oc) => rimForm(oc, body, namedShape(oc, body).shape, face))
  const { sizes, goes } = meeting(form)
  const plausible = (made: ExactBody) =>
    made.facts.pieces === body.facts.pieces && Math.abs(body.facts.volume - made.facts.volume - goes) < 0.1 * goes
  const width = (form.width[0] + form.width[1]) / 2
  if (form.square && isEven(form)) {
    try {
      const made = await withKernel('Full round', (oc) => oneRound(oc, body, face, { ...form, width }))
      if (plausible(made)) return { body: made, width, strip: 0 }
    } catch (error) {
      if (!(error instanceof StepError) || error.code === 'out-of-memory') throw error
    }
  }
  const spare = Math.max(...form.edges.map((e) => e.spare))
  for (const short of [1e-4, 1e-3, 1e-2])
    try {
      const list = sizes.map(({ edges, size }) => ({ edges, size: size * (1 - short) }))
      const made = await filletEdges(body, list, work)
      if (plausible(made)) return { body: made, width, strip: form.width[1] * short + spare }
    } catch (error) {
      if (!(error instanceof StepError) || error.code !== 'too-large') throw error
    }
  if (!isEven(form)) throw unevenRim(part, form)
  throw noRim(part, 'neither one round nor two meet on it')
}
