/** Booleans of exact bodies, and the distance between two. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { finish, runBuilder } from './build'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import type { Named } from './names'
import { listOf } from './queries'
import { withKernel } from './scope'
import { ownShape, shapeOf } from './shape-cache'

export type BooleanKind = 'union' | 'difference' | 'intersection'

/** A body's shape with the names of its faces, for a builder to work on. */
export const namedShape = (oc: Kernel, body: ExactBody): Named => ({
  shape: ownShape(oc, body),
  names: body.parts.faces.map((f) => f.name),
})

/** Equal names of two bodies (a body and its copy) are told apart before history mixes them. */
function apart(inputs: readonly Named[]): Named[] {
  const seen = new Set<string>()
  return inputs.map(({ shape, names }, i) => {
    const own = names.map((n) => (seen.has(n) ? `${n} of body ${i + 1}` : n))
    for (const n of own) seen.add(n)
    return { shape, names: own }
  })
}

/** The solids of a shape that is nothing but solids, each by itself: in one compound the kernel loses some that are turned. */
function piecesOf(oc: Kernel, shape: TopoDS_Shape): TopoDS_Shape[] {
  if (String(shape.ShapeType()) !== 'TopAbs_COMPOUND') return [shape]
  const solids = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list
  const count = (of: TopoDS_Shape) => new ShapeIndex(oc, of, 'TopAbs_FACE').list.length
  const faces = solids.reduce((n, s) => n + count(s), 0)
  return solids.length && faces === count(shape) ? solids : [shape]
}

/**
 * Boolean of exact bodies; difference takes all later ones from the first. Faces on one surface are merged, and faces keep their names.
 * Throws StepError `boolean-failed`, `empty-result` or `not-valid`.
 */
export const combineSolids = (
  kind: BooleanKind,
  bodies: readonly ExactBody[],
  work: Work = quiet,
): Promise<ExactBody> => {
  const title = kind[0].toUpperCase() + kind.slice(1)
  const [one, ...others] = bodies.map((b) => b.kind)
  // A sheet has no inside: it can be cut by a solid, not cut one.
  if (
    kind === 'union'
      ? others.some((k) => k !== one)
      : kind === 'difference' && one === 'solid' && others.includes('sheet')
  )
    return Promise.reject(
      new StepError(
        'no-inside',
        `A sheet has no inside, so it cannot be ${kind === 'union' ? 'joined to' : 'taken from'} a solid.`,
        {
          tryThis: 'Divide the solid by it with Split by, or give the sheet a wall by Thicken first.',
        },
      ),
    )
  return withKernel(title, (oc) => {
    const made = (unify: boolean) => {
      // Read for each go: builders write into what they are given.
      const inputs = apart(bodies.map((b) => namedShape(oc, b)))
      const { shape, names } = combined(oc, kind, inputs, unify, work)
      checkStop(work)
      work.progress(0.9, 'checking the result')
      return finish(oc, shape, { what: title, names })
    }
    try {
      return made(true)
    } catch (error) {
      // Where a cut runs over the seam of a ball, merging its halves may turn it inside out; in pieces it is sound.
      if (!(error instanceof StepError) || error.code !== 'not-valid') throw error
      return made(false)
    }
  })
}

/** The boolean itself; `unify`: faces on one surface become one. */
function combined(
  oc: Kernel,
  kind: BooleanKind,
  [first, ...rest]: readonly Named[],
  unify: boolean,
  work: Work,
): Named {
  const range = new oc.Message_ProgressRange()
  const failed = new StepError('boolean-failed', `The ${kind} failed in the exact kernel.`, {
    tryThis: 'Move one body by a hundredth of a millimetre and try again.',
  })
  if (kind === 'intersection')
    return rest.reduce((now, tool, i) => {
      checkStop(work)
      work.progress(i / (rest.length + 1), 'exact boolean')
      const op = new oc.BRepAlgoAPI_Common(now.shape, tool.shape, range)
      return runBuilder(oc, op, { inputs: [now, tool], unify, failed })
    }, first)
  // All at once: one after the other takes several times as long.
  work.progress(0.1, 'exact boolean')
  const list = (some: readonly Named[]) =>
    listOf(
      oc,
      some.flatMap((n) => piecesOf(oc, n.shape)),
    )
  const op = kind === 'union' ? new oc.BRepAlgoAPI_Fuse() : new oc.BRepAlgoAPI_Cut()
  op.SetArguments(list([first]))
  op.SetTools(list(rest))
  op.Build(range)
  return runBuilder(oc, op, { inputs: [first, ...rest], unify, failed })
}

/** Smallest distance between two exact bodies, mm; 0 when they touch or overlap. */
export const solidDistance = (a: ExactBody, b: ExactBody): Promise<number> =>
  withKernel('Measuring', (oc) => {
    // The overload that takes a progress range is not bound.
    const d = new oc.BRepExtrema_DistShapeShape()
    d.LoadS1(shapeOf(oc, a))
    d.LoadS2(shapeOf(oc, b))
    d.Perform(new oc.Message_ProgressRange())
    return d.Value()
  })
