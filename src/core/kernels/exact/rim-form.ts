/** The flat top of a wall: which edges are its two sides, how wide it is over each, and how the walls under it lean. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { curveOf, nearestOn, wiresOf } from './queries'

/** One edge of a rim's sides. */
export interface RimEdge {
  readonly edge: number
  readonly length: number
  /** Width of the rim over the edge, mm; null for one so near to corners that no place of the other side lies square to it. */
  readonly width: number | null
  /** By how much the rim is wider at its widest place over the edge, mm. */
  readonly spare: number
  /** Angles inside the body between the rim and the walls under the edge and across from it, radians. */
  readonly angles: readonly [number, number]
}

export interface RimForm {
  /** Numbers of the edges of its two sides. */
  readonly sides: readonly [readonly number[], readonly number[]]
  readonly edges: readonly RimEdge[]
  /** Least and greatest width of its edges, mm. */
  readonly width: readonly [number, number]
  /** It runs round; else it has ends. */
  readonly round: boolean
  /** Both walls stand square to it all along. */
  readonly square: boolean
}

/** Widths that differ by less than this share are one. */
const even = 2e-3
/** Where along an edge it is measured. */
const shares = [0.08, 0.29, 0.5, 0.71, 0.92]
/** The way across is square to the edge when its cosine is less. */
const squareTo = 0.02

/** Where walls lean, widths along one edge may differ by this share: what two fillets leave between them is told. */
const leaning = 0.02
/** Walls nearer to square than this stand square, radians: parallel walls of splines are fitted. */
const upright = 3e-4
/** How far under the rim a wall is asked, as a share of the width. */
const below = 0.05

export const noRim = (part: { name: string; at: Vec3 }, why: string) =>
  new StepError('no-rim', `"${part.name}" is no rim that can be rounded from side to side: ${why}.`, {
    where: { point: part.at },
    tryThis: 'Pick the flat top of a wall that is equally thick all along, or round its edges by a radius.',
  })

const between = (part: { name: string; at: Vec3 }, widths: readonly number[]) =>
  noRim(part, `it is between ${num(Math.min(...widths))} and ${num(Math.max(...widths))} mm wide`)

/** Whether a rim is as wide everywhere. */
export const isEven = ({ width: [low, high] }: RimForm) => high - low < even * high

/**
 * Measures a face as the top of a wall.
 *
 * @throws StepError `no-rim`
 */
export function rimForm(oc: Kernel, body: ExactBody, shape: TopoDS_Shape, face: number): RimForm {
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
  const compound = (list: readonly TopoDS_Shape[]) => {
    const all = new oc.TopoDS_Compound()
    builder.MakeCompound(all)
    for (const one of list) builder.Add(all, one)
    return all
  }
  const wallUnder = (edge: number) => {
    const wall = body.parts.edges[edge].faces.find((f) => f !== face)
    if (wall === undefined) throw noRim(part, 'no wall stands under it')
    return faces[wall]
  }
  const square = Math.PI / 2
  const farther = (a: number, b: number) => (Math.abs(a - square) > Math.abs(b - square) ? a : b)
  /** Widths at all places asked, square to the edge or not. */
  const askew: number[] = []
  const measured = sides.flatMap((side, k) => {
    const across = compound(sides[1 - k].map((e) => edges.list[e]))
    const wallsAcross = compound(sides[1 - k].map(wallUnder))
    /** Angle inside the body between the way over the rim and the wall that goes down from a place of its border. */
    const lean = (wall: TopoDS_Shape, p: Vec3, over: Vec3) => {
      const down = sub(nearestOn(oc, wall, addScaled(p, n, -below * length(over))).at, p)
      return Math.acos(Math.max(-1, Math.min(1, dot(normalize(down), normalize(over)))))
    }
    return side.map((edge): RimEdge => {
      const { at, way } = curveOf(oc, oc.TopoDS.Edge(edges.list[edge]))
      const widths: number[] = []
      let angles: [number, number] = [square, square]
      for (const t of shares) {
        const p = at(t)
        const foot = nearestOn(oc, across, p).at
        const over = sub(foot, p)
        askew.push(length(over))
        if (Math.abs(dot(normalize(over), way(t))) > squareTo) continue
        widths.push(length(over))
        const back = sub(p, foot)
        angles = [farther(lean(wallUnder(edge), p, over), angles[0]), farther(lean(wallsAcross, foot, back), angles[1])]
      }
      const [low, high] = [Math.min(...widths), Math.max(...widths)]
      const leans = angles.some((a) => Math.abs(a - square) > 1e-3)
      if (high - low > (leans ? leaning : even) * high) throw between(part, widths)
      const width = high - low > even * high ? low : (low + high) / 2
      return {
        edge,
        length: body.parts.edges[edge].length,
        width: widths.length ? width : null,
        spare: widths.length ? high - width : 0,
        angles,
      }
    })
  })
  const widths = measured.flatMap((e) => e.width ?? [])
  if (!widths.length) throw between(part, askew)
  return {
    sides,
    edges: measured,
    width: [Math.min(...widths), Math.max(...widths)],
    round: wires.length === 2,
    square: measured.every((e) => e.angles.every((a) => Math.abs(a - square) < upright)),
  }
}

/** That a rim is refused for its widths. */
export const unevenRim = (part: { name: string; at: Vec3 }, form: RimForm) => between(part, form.width)
