/** The five shapes that mechanical parts are made of, as numbers. */
import type { BoundSurface } from '@/core/bodies/bounded'
import { addScaled, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'

export const shapeKinds = [
  'plane',
  'cylinder',
  'cone',
  'sphere',
  'ring',
] as const satisfies readonly BoundSurface['kind'][]
export type ShapeKind = BoundSurface['kind']

/** A shape is a surface without borders. */
export type Shape = BoundSurface

/** Distances of places from one shape, mm; above zero on the outside. Nothing is made anew for each place: fits ask for millions. */
export function offsFrom(s: Shape): (p: Vec3) => number {
  const [x, y, z] = s.at
  if (s.kind === 'sphere') {
    const r = s.radius!
    return (p) => Math.sqrt((p[0] - x) ** 2 + (p[1] - y) ** 2 + (p[2] - z) ** 2) - r
  }
  const [u, v, w] = s.axis!
  if (s.kind === 'plane') return (p) => (p[0] - x) * u + (p[1] - y) * v + (p[2] - z) * w
  // Written out for each: one closure within another costs as much again.
  const r = s.radius!
  if (s.kind === 'cylinder')
    return (p) => {
      const [a, b, c] = [p[0] - x, p[1] - y, p[2] - z]
      const along = a * u + b * v + c * w
      return Math.sqrt((a - u * along) ** 2 + (b - v * along) ** 2 + (c - w * along) ** 2) - r
    }
  if (s.kind === 'ring') {
    const thick = s.thickness!
    return (p) => {
      const [a, b, c] = [p[0] - x, p[1] - y, p[2] - z]
      const along = a * u + b * v + c * w
      const out = Math.sqrt((a - u * along) ** 2 + (b - v * along) ** 2 + (c - w * along) ** 2) - r
      return Math.sqrt(out * out + along * along) - thick
    }
  }
  const half = (s.halfAngle! * Math.PI) / 180
  const [cos, sin] = [Math.cos(half), Math.sin(half)]
  // Behind the tip the tip itself is nearest; the wall's own line serves for fits, which never lie there.
  return (p) => {
    const [a, b, c] = [p[0] - x, p[1] - y, p[2] - z]
    const along = a * u + b * v + c * w
    return Math.sqrt((a - u * along) ** 2 + (b - v * along) ** 2 + (c - w * along) ** 2) * cos - along * sin
  }
}

const kept = new WeakMap<Shape, (p: Vec3) => number>()

/** Distance of a place from a shape, mm; above zero on the outside. */
export function offShape(s: Shape, p: Vec3): number {
  let off = kept.get(s)
  if (!off) kept.set(s, (off = offsFrom(s)))
  return off(p)
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
