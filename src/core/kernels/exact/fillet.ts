/** Rounded and cut edges. What cannot be made is tried with smaller sizes, so that the largest that works can be offered. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { addScaled, cross, dot, normalize, scale } from '@/core/math/vec'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { finish, runBuilder } from './build'
import { namedShape } from './boolean'
import { sharpEdges, type SharpEdge } from './edges'
import { ShapeIndex } from './explore'
import { roughVolume } from './mass'
import type { Kernel } from './kernel'
import { curveOf, nearestOn } from './queries'
import { withKernel } from './scope'

/** Edges by number, with their size. */
export interface EdgeSize {
  readonly edges: readonly number[]
  /** Radius of a fillet; distance of a chamfer on the first face, mm. */
  readonly size: number
  /** Of a chamfer: distance on the second face, or angle to the first, degrees. */
  readonly second?: number
  readonly angle?: number
  /** Number of the face on which `size` is measured. */
  readonly face?: number
}

type Op = InstanceType<Kernel['BRepFilletAPI_MakeFillet']> | InstanceType<Kernel['BRepFilletAPI_MakeChamfer']>

/** Volume, or null for a shape that is not sound. */
function soundVolume(oc: Kernel, shape: TopoDS_Shape): number | null {
  if (!new oc.BRepCheck_Analyzer(shape, true, false, false).IsValid()) return null
  const v = roughVolume(oc, shape)
  return v > 0 ? v : null
}

/** Sizes are halved toward the limit this many times. */
const tries = 11

interface Feature {
  readonly what: string
  readonly word: 'radius' | 'distance'
  readonly made: string
  add(oc: Kernel, shape: TopoDS_Shape, sets: readonly { edges: SharpEdge[]; set: EdgeSize }[], factor: number): Op
}

const fillets: Feature = {
  what: 'Fillet',
  word: 'radius',
  made: 'fillet',
  add(oc, shape, sets, factor) {
    const op = new oc.BRepFilletAPI_MakeFillet(shape)
    for (const { edges, set } of sets)
      // An edge of a tangent chain comes with the first of it.
      for (const { edge } of edges) if (!op.Contour(edge)) op.Add(set.size * factor, edge)
    return op
  },
}

const chamfers: Feature = {
  what: 'Chamfer',
  word: 'distance',
  made: 'chamfer',
  add(oc, shape, sets, factor) {
    const op = new oc.BRepFilletAPI_MakeChamfer(shape)
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
    for (const { edges, set } of sets)
      for (const { edge, faces: around } of edges) {
        if (op.Contour(edge)) continue
        const on = around.find((f) => set.face !== undefined && f.IsSame(faces[set.face])) ?? around[0]
        if (set.second !== undefined) op.Add(set.size * factor, set.second * factor, edge, on)
        else if (set.angle !== undefined) op.AddDA(set.size * factor, (set.angle * Math.PI) / 180, edge, on)
        else op.Add(set.size * factor, edge)
      }
    return op
  },
}

/** How far beside an edge a face is looked for, as a share of the edge's length. */
const nearby = 1e-3

/** Whether edges between flat faces are all outer ones (1) or all inner ones (-1); 0 where that is not clear. */
function turnOf(oc: Kernel, body: ExactBody, sets: readonly { edges: SharpEdge[] }[]): -1 | 0 | 1 {
  const signs = new Set<number>()
  for (const { edges } of sets)
    for (const { index, edge, faces } of edges) {
      const [f, g] = body.parts.edges[index].faces.map((i) => body.parts.faces[i])
      const e = body.parts.edges[index]
      if (f.shape !== 'plane' || g.shape !== 'plane' || !f.axis || !g.axis || !e.axis) return 0
      // Seen from the edge, the other face lies below the first one's plane where the edge is an outer one. Which way it lies is asked
      // beside the edge: its middle may be anywhere, as that of a rim is.
      const p = curveOf(oc, oc.TopoDS.Edge(edge)).at(0.5)
      const away = scale(normalize(cross(e.axis, g.axis)), nearby * e.length)
      const far = [1, -1].map((way) => nearestOn(oc, faces[1], addScaled(p, away, way)).distance)
      signs.add(Math.sign(-dot(f.axis, far[0] < far[1] ? away : scale(away, -1))))
    }
  return signs.size === 1 ? ([...signs][0] as -1 | 0 | 1) : 0
}

/** Whether the feature can be made at a share of its sizes. */
function works(
  oc: Kernel,
  f: Feature,
  shape: TopoDS_Shape,
  sets: Parameters<Feature['add']>[2],
  factor: number,
  plausible: (volume: number) => boolean,
): boolean {
  try {
    const op = f.add(oc, shape, sets, factor)
    op.Build(new oc.Message_ProgressRange())
    if (!op.IsDone()) return false
    const volume = soundVolume(oc, op.Shape())
    return volume !== null && plausible(volume)
  } catch {
    return false
  }
}

const edged = (
  f: Feature,
  body: ExactBody,
  list: readonly EdgeSize[],
  work: Work,
  smooth?: number,
): Promise<ExactBody> =>
  withKernel(f.what, (oc) => {
    const input = namedShape(oc, body)
    const sets = list.map((set) => ({ edges: sharpEdges(oc, input.shape, body, set.edges, smooth), set }))
    if (!sets.some((s) => s.edges.length))
      throw new StepError(
        'no-part',
        `None of the picked edges is sharp: there is nothing to ${f.what.toLowerCase()}.`,
        {
          tryThis: 'Pick an edge where two faces meet at an angle.',
        },
      )
    // Outer edges lose, inner ones gain: the kernel sometimes calls the other sound.
    const turn = turnOf(oc, body, sets)
    const plausible = (v: number) => turn * (body.facts.volume - v) > -1e-9 * body.facts.volume
    const tooLarge = () => {
      // What works is looked for by halving (at most a dozen builds).
      let low = 0,
        high = 1
      for (let i = 0; i < tries; i++) {
        checkStop(work)
        work.progress(0.3 + (0.6 * i) / tries, `looking for the largest ${f.word}`)
        const middle = (low + high) / 2
        if (works(oc, f, input.shape, sets, middle, plausible)) low = middle
        else high = middle
      }
      const first = sets.find((s) => s.edges.length)!.set
      const best = Math.floor(low * first.size * 1e3) / 1e3
      return new StepError(
        'too-large',
        `A ${f.word} of ${num(first.size)} mm cannot be made there${best > 0 ? `; up to ${num(best, 3)} mm works` : ''}.`,
        {
          where: { point: body.parts.edges[sets.find((s) => s.edges.length)!.edges[0].index].at },
          tryThis: best > 0 ? `Take ${num(best, 3)} mm or less.` : 'Pick other edges, or another order of features.',
          ...(best > 0 ? { offer: { set: f.word, to: best } } : {}),
        },
      )
    }
    let done: ReturnType<typeof runBuilder>
    try {
      const op = f.add(oc, input.shape, sets, 1)
      op.Build(new oc.Message_ProgressRange())
      done = runBuilder(oc, op, {
        failed: new StepError('too-large', ''),
        inputs: [input],
        made: (edge) => `${f.made}(${edge})`,
      })
    } catch (error) {
      if (error instanceof StepError && error.code !== 'too-large') throw error
      throw tooLarge()
    }
    try {
      const made = finish(oc, done.shape, {
        what: f.what,
        names: done.names,
        prefix: `${f.made}/`,
        label: body.label,
        colour: body.colour,
      })
      if (plausible(made.facts.volume)) return made
    } catch (error) {
      if (!(error instanceof StepError && error.code === 'not-valid')) throw error
    }
    throw tooLarge()
  })

/** Rounds edges; tangent chains come along. Throws StepError `too-large` with the largest radius that works, `no-part`. */
export const filletEdges = (body: ExactBody, list: readonly EdgeSize[], work: Work = quiet, smooth?: number) =>
  edged(fillets, body, list, work, smooth)

/** Cuts edges off. Throws StepError `too-large` with the largest distance that works, `no-part`. */
export const chamferEdges = (body: ExactBody, list: readonly EdgeSize[], work: Work = quiet, smooth?: number) =>
  edged(chamfers, body, list, work, smooth)
