/** How far the corners of a mesh lie off the curves of a profile, curve by curve; and which face each curve becomes. */
import { toSpace, type Curve, type Drawing, type DrawingPlane, type Place } from '@/core/outline/drawing'
import { alongOf, mayBeNear, nearestOn } from '@/core/outline/parametric'
import type { CleanFace } from './clean-face'

interface OffCurve {
  /** Distances of the places that lie nearest to this curve, mm. */
  readonly offs: number[]
}

/** Each place counts for the curve that it lies nearest to. */
export function offCurves(d: Drawing, places: readonly Place[]): OffCurve[] {
  const out = d.curves.map((): OffCurve => ({ offs: [] }))
  for (const p of places) {
    let best = -1,
      least = Infinity
    d.curves.forEach((c, i) => {
      if (!mayBeNear(d, c, p, least)) return
      const { distance } = nearestOn(d, c, p)
      if (distance >= least) return
      least = distance
      best = i
    })
    if (best >= 0) out[best].offs.push(least)
  }
  return out
}

/** The wall that a curve becomes when it is drawn out. */
export const wallOf = (d: Drawing, c: Curve): Pick<CleanFace, 'shape' | 'size'> =>
  c.kind === 'line'
    ? { shape: 'plane' }
    : c.kind === 'circle'
      ? { shape: 'cylinder', size: c.radius }
      : c.kind === 'arc'
        ? { shape: 'cylinder', size: radiusOf(d, c) }
        : { shape: 'spline' }

/** Coordinates of half sections that differ by less are one, mm. */
const same = 1e-6

/** The wall that a curve of a half section (away from the axis, along it) becomes when it is turned. */
export function turnedWallOf(d: Drawing, c: Curve): Pick<CleanFace, 'shape' | 'size'> {
  if (c.kind === 'line') {
    const [p, q] = [d.points[c.from], d.points[c.to]]
    const [dr, dz] = [Math.abs(q[0] - p[0]), Math.abs(q[1] - p[1])]
    if (dz < same) return { shape: 'plane' }
    if (dr < same) return { shape: 'cylinder', size: p[0] }
    return { shape: 'cone', size: (Math.atan2(dr, dz) * 180) / Math.PI }
  }
  if (c.kind === 'spline' || c.kind === 'ellipse') return { shape: 'spline' }
  const size = c.kind === 'circle' ? c.radius : radiusOf(d, c)
  return { shape: Math.abs(d.points[c.centre][0]) < same ? 'sphere' : 'ring', size }
}

const radiusOf = (d: Drawing, c: Extract<Curve, { kind: 'arc' }>) => {
  const [p, m] = [d.points[c.from], d.points[c.centre]]
  return Math.hypot(p[0] - m[0], p[1] - m[1])
}

/** Faces of a profile as the table tells them. */
export function facesOfProfile(
  plane: DrawingPlane,
  d: Drawing,
  off: readonly OffCurve[],
  wall: (d: Drawing, c: Curve) => Pick<CleanFace, 'shape' | 'size'>,
): CleanFace[] {
  return d.curves.map((c, i) => {
    const { offs } = off[i]
    return {
      ...wall(d, c),
      corners: offs.length,
      rms: offs.length ? Math.sqrt(offs.reduce((s, v) => s + v * v, 0) / offs.length) : 0,
      max: offs.reduce((m, v) => Math.max(m, v), 0),
      at: toSpace(plane, alongOf(d, c)(0.5)),
    }
  })
}
