/** Exact bodies divided by a plane or by another body, and sheets given a wall. */
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { scale, type Vec3 } from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { cutByPlane } from './extrude'
import { ShapeIndex } from './explore'
import { keptOf, listOf } from './queries'
import { withKernel } from './scope'

const missed = (what: string) =>
  new StepError('no-cut', `${what} does not cut the body: all of it lies on one side.`, {
    tryThis: 'Move or turn it so that it passes through the body.',
  })

/** What lies on each side of a plane: `a` where its normal points, `b` behind. Throws StepError `no-cut`. */
export const cutInTwo = (body: ExactBody, at: Vec3, normal: Vec3): Promise<{ a: ExactBody; b: ExactBody }> =>
  withKernel('Cut by plane', (oc) => {
    const input = namedShape(oc, body)
    const side = (n: Vec3): ExactBody => {
      const cut = cutByPlane(oc, input, { at, normal: n }, 'cut', 'Cut by plane')
      try {
        return finish(oc, cut.shape, {
          what: 'Cut by plane',
          names: cut.names,
          sheet: body.kind === 'sheet',
          ...keptOf(body),
        })
      } catch (error) {
        if (error instanceof StepError && error.code === 'empty-result') throw missed('The plane')
        throw error
      }
    }
    const [b, a] = [side(normal), side(scale(normal, -1))]
    const size = (x: ExactBody) => (body.kind === 'sheet' ? x.facts.area : x.facts.volume)
    if (size(a) >= size(body) * (1 - 1e-9) || size(b) >= size(body) * (1 - 1e-9)) throw missed('The plane')
    return { a, b }
  })

/** The pieces that a sheet or solid divides a body into, the largest first. Throws StepError `no-cut`. */
export const splitBy = (body: ExactBody, tool: ExactBody, toolName: string): Promise<ExactBody[]> =>
  withKernel('Split', (oc) => {
    const [input, by] = [namedShape(oc, body), namedShape(oc, tool)]
    const op = new oc.BRepAlgoAPI_Splitter()
    op.SetArguments(listOf(oc, [input.shape]))
    op.SetTools(listOf(oc, [by.shape]))
    op.Build(new oc.Message_ProgressRange())
    const done = runBuilder(oc, op as never, {
      failed: new StepError('boolean-failed', `"${toolName}" could not divide the body.`),
      inputs: [input, by],
    })
    const names = new Map<number, string>()
    const faces = new ShapeIndex(oc, done.shape, 'TopAbs_FACE')
    done.names.forEach((n, i) => names.set(i, n))
    const pieces = new ShapeIndex(oc, done.shape, body.kind === 'sheet' ? 'TopAbs_SHELL' : 'TopAbs_SOLID').list
    // A sheet that does not pass right through leaves an inner face and one piece.
    if (pieces.length < 2) throw missed(`"${toolName}"`)
    return pieces
      .map((p) =>
        finish(oc, p, {
          what: 'Split',
          names: new ShapeIndex(oc, p, 'TopAbs_FACE').list.map((f) => names.get(faces.indexOf(f)) ?? ''),
          prefix: 'cut/',
          sheet: body.kind === 'sheet',
        }),
      )
      .sort((x, y) => y.facts.volume - x.facts.volume || y.facts.area - x.facts.area)
  })

/** A sheet with a wall, mm; below zero to its other side. Throws StepError `too-thick`. */
export const thickenSheet = (body: ExactBody, wall: number): Promise<ExactBody> =>
  withKernel('Thicken', (oc) => {
    const input = namedShape(oc, body)
    const failed = new StepError('too-thick', `A wall of ${num(Math.abs(wall))} mm cannot be put on this sheet.`, {
      tryThis: 'Take a thinner wall, or the other side: it must be thinner than the sheet bends.',
    })
    const op = new oc.BRepOffsetAPI_MakeThickSolid()
    op.MakeThickSolidBySimple(input.shape, wall)
    if (!op.IsDone()) throw failed
    const made = finish(oc, op.Shape(), { what: 'Thicken', prefix: 'wall/', outward: true, sheet: true })
    if (made.kind !== 'solid') throw failed
    return made
  })
