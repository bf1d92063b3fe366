/** Fitted shapes as exact faces and solids. */
import { StepError } from '@/core/base/step-error'
import type { BoundSurface } from '@/core/bodies/bounded'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, cross, type Vec3 } from '@/core/math/vec'
import { finish } from './build'
import { makeCone, makeCylinder, makeRing, makeSphere } from './primitives'
import { withKernel } from './scope'
import { pointOf } from './wires'

/** A shape as numbers, and how far it is to reach. */
export interface Reach extends BoundSurface {
  readonly from: number
  readonly to: number
  readonly start: number
  readonly turn: number
  readonly x: Vec3
}

const turned = (x: Vec3, axis: Vec3, degrees: number): Vec3 => {
  const a = (degrees * Math.PI) / 180
  const y = cross(axis, x)
  return [0, 1, 2].map((k) => Math.cos(a) * x[k] + Math.sin(a) * y[k]) as unknown as Vec3
}

/** A shape as a face of the extent; spheres and rings come whole. */
export const shapeSheet = (s: Reach, name: string): Promise<ExactBody> =>
  withKernel('Fit shape', (oc) => {
    const axis = s.axis ?? ([0, 0, 1] as Vec3)
    const done = (shape: Parameters<typeof finish>[1]) =>
      finish(oc, shape, { what: 'Fit shape', names: [`${name}/face`], prefix: `${name}/`, sheet: true })
    if (s.kind === 'plane') {
      const frame = new oc.gp_Ax3(pointOf(oc, s.at), new oc.gp_Dir(...axis), new oc.gp_Dir(...s.x))
      return done(new oc.BRepBuilderAPI_MakeFace(new oc.gp_Pln(frame), s.from, s.to, s.start, s.start + s.turn).Face())
    }
    if (s.kind === 'sphere' || s.kind === 'ring') {
      const whole =
        s.kind === 'sphere'
          ? new oc.BRepPrimAPI_MakeSphere(pointOf(oc, s.at), s.radius!).Shape()
          : new oc.BRepPrimAPI_MakeTorus(
              new oc.gp_Ax2(pointOf(oc, s.at), new oc.gp_Dir(...axis)),
              s.radius!,
              s.thickness!,
            ).Shape()
      const faces = new oc.TopExp_Explorer(whole, 'TopAbs_FACE' as never)
      return done(faces.Current())
    }
    // A straight line turned about the axis.
    const way = turned(s.x, axis, s.start)
    const widen = s.kind === 'cone' ? Math.tan((s.halfAngle! * Math.PI) / 180) : 0
    const place = (t: number) => pointOf(oc, addScaled(addScaled(s.at, axis, t), way, (s.radius ?? 0) + t * widen))
    const edge = new oc.BRepBuilderAPI_MakeEdge(place(s.from), place(s.to)).Edge()
    const about = new oc.gp_Ax1(pointOf(oc, s.at), new oc.gp_Dir(...axis))
    const whole = s.turn >= 360 - 1e-9
    return done(
      whole
        ? new oc.BRepPrimAPI_MakeRevol(edge, about, false).Shape()
        : new oc.BRepPrimAPI_MakeRevol(edge, about, (s.turn * Math.PI) / 180, false).Shape(),
    )
  })

/** A shape as a solid: round ones right round. Throws StepError `no-inside` for a plane. */
export function shapeSolid(s: Reach, name: string): Promise<ExactBody> {
  const at = addScaled(s.at, s.axis ?? [0, 0, 1], s.from)
  switch (s.kind) {
    case 'plane':
      throw new StepError('no-inside', 'A plane has no inside: it cannot be a solid.', {
        tryThis: 'Take it as a sheet or a datum.',
      })
    case 'cylinder':
      return makeCylinder(s.radius!, s.to - s.from, at, s.axis!, name)
    case 'cone': {
      const widen = Math.tan((s.halfAngle! * Math.PI) / 180)
      const tip = Math.max(0, s.from)
      return makeCone(tip * widen, s.to * widen, s.to - tip, addScaled(s.at, s.axis!, tip), s.axis!, name)
    }
    case 'sphere':
      return makeSphere(s.radius!, s.at, name)
    case 'ring':
      return makeRing(s.radius!, s.thickness!, s.at, s.axis!, name)
  }
}
