/** Rows of planes: apart by a gap, evenly across a body, along a curve, or turned about an axis. */
import { applyPoint, rotation } from '@/core/math/affine'
import { add, addScaled, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'

export interface CutPlane {
  readonly at: Vec3
  /** Unit normal. */
  readonly normal: Vec3
}

/** Planes one behind the other, apart by `gap` mm. */
export const byGap = ({ at, normal }: CutPlane, count: number, gap: number): CutPlane[] =>
  Array.from({ length: count }, (_, i) => ({ at: addScaled(at, normal, i * gap), normal }))

/** Planes of one direction evenly across the bodies: as much room before the first and behind the last as half a gap. */
export function evenly(meshes: readonly TriMesh[], { at, normal }: CutPlane, count: number): CutPlane[] {
  let low = Infinity,
    high = -Infinity
  for (const m of meshes) {
    const { min, max } = meshBounds(m)
    // The corners of the box first; it is looked at vertex by vertex only where the direction is none of the box's own.
    const own = normal.some((v) => Math.abs(Math.abs(v) - 1) < 1e-12)
    if (own)
      for (const p of [min, max]) {
        low = Math.min(low, dot(p, normal))
        high = Math.max(high, dot(p, normal))
      }
    else
      for (let i = 0; i < m.positions.length; i += 3) {
        const d = m.positions[i] * normal[0] + m.positions[i + 1] * normal[1] + m.positions[i + 2] * normal[2]
        low = Math.min(low, d)
        high = Math.max(high, d)
      }
  }
  const from = dot(at, normal)
  return Array.from({ length: count }, (_, i) => ({
    at: addScaled(at, normal, low + ((i + 0.5) / count) * (high - low) - from),
    normal,
  }))
}

/** Planes turned about an axis, by `degrees` from each to the next. */
export const turned = (first: CutPlane, count: number, about: CutPlane, degrees: number): CutPlane[] =>
  Array.from({ length: count }, (_, i) => {
    const turn = rotation(about.normal, i * degrees)
    return {
      at: add(about.at, applyPoint(turn, sub(first.at, about.at))),
      normal: normalize(applyPoint(turn, first.normal)),
    }
  })

/**
 * Planes square to a row of places, evenly along it: an open row from end to end, a closed one all round.
 * @param exact the place and way of the curve itself near a place of the row
 */
export function along(
  row: readonly Vec3[],
  closed: boolean,
  count: number,
  exact: (p: Vec3) => { at: Vec3; way: Vec3 } | null,
): CutPlane[] {
  const points = closed ? [...row, row[0]] : row
  const far = [0]
  for (let i = 1; i < points.length; i++) {
    const d = sub(points[i], points[i - 1])
    far.push(far[i - 1] + Math.hypot(...d))
  }
  const whole = far[far.length - 1]
  const out: CutPlane[] = []
  let i = 1
  for (let k = 0; k < count; k++) {
    const want = closed ? (k / count) * whole : count === 1 ? whole / 2 : (k / (count - 1)) * whole
    while (i < points.length - 1 && far[i] < want) i++
    const t = (want - far[i - 1]) / (far[i] - far[i - 1] || 1)
    const bit = sub(points[i], points[i - 1])
    const place = add(points[i - 1], scale(bit, Math.max(0, Math.min(1, t))))
    const on = exact(place)
    const way = on?.way ?? normalize(bit)
    // The curve may be told backwards there; planes look the way the row goes.
    out.push({ at: on?.at ?? place, normal: dot(way, bit) < 0 ? scale(way, -1) : way })
  }
  return out
}
