/** The five shapes that mechanical parts are made of, as numbers. */
import { addScaled, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'

export const shapeKinds = ['plane', 'cylinder', 'cone', 'sphere', 'ring'] as const
export type ShapeKind = (typeof shapeKinds)[number]

export interface Shape {
  readonly kind: ShapeKind
  /** A place of a plane, on a cylinder's axis, a cone's tip, the middle of a sphere or ring, mm. */
  readonly at: Vec3
  /** Normal of a plane, axis of a cylinder or ring, of a cone from its tip into it (unit). */
  readonly axis?: Vec3
  /** Of a cylinder, sphere, or a ring's circle, mm. */
  readonly radius?: number
  /** Radius of a ring's tube, mm. */
  readonly thickness?: number
  /** Between a cone's axis and its wall, degrees. */
  readonly halfAngle?: number
}

/** Distance of a place from a shape, mm; above zero on the outside. */
export function offShape(s: Shape, p: Vec3): number {
  const d = sub(p, s.at)
  if (s.kind === 'plane') return dot(d, s.axis!)
  if (s.kind === 'sphere') return length(d) - s.radius!
  const along = dot(d, s.axis!)
  const out = length(addScaled(d, s.axis!, -along))
  if (s.kind === 'cylinder') return out - s.radius!
  if (s.kind === 'ring') return Math.hypot(out - s.radius!, along) - s.thickness!
  const a = (s.halfAngle! * Math.PI) / 180
  // Behind the tip the tip itself is nearest; the wall's own line serves for fits, which never lie there.
  return out * Math.cos(a) - along * Math.sin(a)
}

/** Direction of a shape's surface at a place near it, away from its inside (unit). */
export function normalOf(s: Shape, p: Vec3): Vec3 {
  const d = sub(p, s.at)
  if (s.kind === 'plane') return s.axis!
  if (s.kind === 'sphere') return normalize(d)
  const along = dot(d, s.axis!)
  const out = addScaled(d, s.axis!, -along)
  const l = length(out) || 1e-300
  const radial: Vec3 = [out[0] / l, out[1] / l, out[2] / l]
  if (s.kind === 'cylinder') return radial
  if (s.kind === 'ring') {
    const [u, v] = [l - s.radius!, along]
    return normalize([0, 1, 2].map((k) => u * radial[k] + v * s.axis![k]) as unknown as Vec3)
  }
  const a = (s.halfAngle! * Math.PI) / 180
  return normalize([0, 1, 2].map((k) => Math.cos(a) * radial[k] - Math.sin(a) * s.axis![k]) as unknown as Vec3)
}
