/** Areas of an outline turned about an axis to solids; open runs to sheets. */
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { add, dot, sub, type Vec3 } from '@/core/math/vec'
import { border, type Profile } from '@/core/outline/profile'
import { rotation, applyPoint } from '@/core/math/affine'
import { toPlane, type DrawingPlane } from '@/core/outline/drawing'
import { finish } from './build'
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { namesFor, together } from './extrude'
import { shapesOf, type Named } from './names'
import { withKernel } from './scope'
import { drawnFace, drawnWire, pointOf } from './wires'

export interface Revolution {
  readonly at: Vec3
  /** Unit direction of the axis. */
  readonly axis: Vec3
  /** Degrees that it turns, and degrees by which it starts before the outline. */
  readonly angle: number
  readonly back: number
  readonly name: string
}

/** Refuses a profile that crosses the axis, or an axis that does not lie in its plane. */
function requireBeside(p: Profile, { at, axis }: Revolution): void {
  const { plane } = p
  const off = Math.max(Math.abs(dot(sub(at, plane.at), plane.normal)), Math.abs(dot(axis, plane.normal)))
  if (off > 1e-6)
    throw new StepError('axis-aslant', 'The axis does not lie in the plane of the outline.', {
      where: { point: at },
      tryThis: 'Pick a line of the outline, or an axis in its plane.',
    })
  const [o, tip] = [toPlane(plane, at), toPlane(plane, add(at, axis))]
  const way = [tip[0] - o[0], tip[1] - o[1]]
  let low = 0,
    high = 0
  for (const a of p.areas)
    for (const q of a.outer.places) {
      const side = way[0] * (q[1] - o[1]) - way[1] * (q[0] - o[0])
      low = Math.min(low, side)
      high = Math.max(high, side)
    }
  const size = Math.max(high, -low)
  if (Math.min(high, -low) > 1e-6 * size)
    throw new StepError(
      'across-axis',
      'The outline lies on both sides of the axis, so turning it would cross itself.',
      {
        where: { point: at },
        tryThis: 'Pick areas on one side of the axis only.',
      },
    )
}

/** A solid (or sheet) of revolution (Pappus: its volume is the area times the way of its middle). Throws StepError `axis-aslant`, `across-axis`. */
export const makeRevolution = (p: Profile, r: Revolution): Promise<ExactBody> => {
  if (p.areas.length) requireBeside(p, r)
  return withKernel('Revolve', (oc) => {
    const turn = rotation(r.axis, -r.back)
    const move = (v: Vec3): Vec3 => add(r.at, applyPoint(turn, sub(v, r.at)))
    const plane: DrawingPlane = r.back
      ? {
          at: move(p.plane.at),
          normal: applyPoint(turn, p.plane.normal),
          x: applyPoint(turn, p.plane.x),
        }
      : p.plane
    const axis = new oc.gp_Ax1(pointOf(oc, r.at), new oc.gp_Dir(...r.axis))
    const whole = r.angle >= 360 - 1e-9
    const swept = (shape: TopoDS_Shape, edges: readonly { edge: TopoDS_Shape; curve: number }[]): Named => {
      const op = whole
        ? new oc.BRepPrimAPI_MakeRevol(shape, axis, false)
        : new oc.BRepPrimAPI_MakeRevol(shape, axis, (r.angle * Math.PI) / 180, false)
      if (!op.IsDone()) throw new StepError('revolve-failed', 'The outline could not be turned about the axis.')
      const told: [TopoDS_Shape, string][] = whole
        ? []
        : [
            [op.FirstShape(), `${r.name}/first end`],
            [op.LastShape(), `${r.name}/last end`],
          ]
      for (const { edge, curve } of edges)
        for (const f of shapesOf(oc, op.Generated(edge))) told.push([f, `${r.name}/side ${curve + 1}`])
      const made = op.Shape()
      return { shape: made, names: namesFor(oc, made, told) }
    }
    if (!p.areas.length) {
      const sheets = p.runs.map((run) => {
        const { wire, edges } = drawnWire(oc, plane, p.divided, run, p.of)
        return swept(wire, edges)
      })
      const all = together(oc, sheets, false, 'Revolve')
      return finish(oc, all.shape, { what: 'Revolve', names: all.names, prefix: `${r.name}/`, sheet: true })
    }
    const parts = p.areas.map((area) => {
      const { face, edges } = drawnFace(oc, plane, p.divided, area, p.of)
      return swept(face, edges)
    })
    const touching = p.areas.some((a, i) => p.areas.slice(0, i).some((b) => border(a, b)))
    const all = together(oc, parts, touching, 'Revolve')
    // A profile that is turned the other way about comes inside out.
    return finish(oc, all.shape, { what: 'Revolve', names: all.names, prefix: `${r.name}/`, outward: true })
  })
}
