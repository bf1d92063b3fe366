/** What a place in a drawing is meant to be: a point that is there, a middle, a centre, a curve, a reference, or level with another place. */
import type { Anchor } from './draw'
import type { Drawing, Place } from './drawing'
import { alongOf, mayBeNear, nearestOn } from './parametric'

export type SnapKind = 'point' | 'middle' | 'origin' | 'corner' | 'curve' | 'reference' | 'horizontal' | 'vertical'
export interface Snap extends Anchor {
  readonly kind: SnapKind | null
}

export const snapWords: Record<SnapKind, string> = {
  point: 'point',
  middle: 'middle',
  origin: 'origin',
  corner: 'corner of the reference',
  curve: 'on the curve',
  reference: 'on the reference',
  horizontal: 'horizontal',
  vertical: 'vertical',
}

const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])

/** The place of a segment nearest to p. */
function onSegment(p: Place, a: Place, b: Place): Place {
  const w: Place = [b[0] - a[0], b[1] - a[1]]
  const t = ((p[0] - a[0]) * w[0] + (p[1] - a[1]) * w[1]) / (w[0] * w[0] + w[1] * w[1] || 1)
  const u = Math.max(0, Math.min(1, t))
  return [a[0] + u * w[0], a[1] + u * w[1]]
}

export interface SnapOptions {
  /** How near something must be, mm. */
  readonly reach: number
  /** The place before, that this one may be level with. */
  readonly from?: Place | null
  /** Curves and points that are left out: those under the hand. */
  readonly but?: { readonly points?: ReadonlySet<number>; readonly curves?: ReadonlySet<number> }
  readonly references?: readonly (readonly Place[])[]
  /** Rounds a free place. */
  round?(v: number): number
}

/** The nearest point within reach; -1 for none. */
function nearestPoint(d: Drawing, p: Place, { reach, but }: SnapOptions): number {
  let best = -1
  let least = Infinity
  d.points.forEach((q, i) => {
    const f = far(p, q)
    if (f > reach || f >= least || but?.points?.has(i)) return
    best = i
    least = f
  })
  return best
}

/** The nearest corner and the nearest place of reference lines within reach. */
function onReferences(p: Place, o: SnapOptions): { corner: Place | null; line: Place | null } {
  const { reach } = o
  let corner: Place | null = null,
    line: Place | null = null
  for (const row of o.references ?? [])
    for (let i = 0; i + 1 < row.length; i++) {
      for (const q of [row[i], row[i + 1]])
        if (far(p, q) <= reach && (!corner || far(p, q) < far(p, corner))) corner = q
      const q = onSegment(p, row[i], row[i + 1])
      if (far(p, q) <= reach && (!line || far(p, q) < far(p, line))) line = q
    }
  return { corner, line }
}

/** What is meant by a place; `kind` null: a free one. */
export function snapTo(d: Drawing, p: Place, o: SnapOptions): Snap {
  const { reach } = o
  const point = nearestPoint(d, p, o)
  if (point >= 0) return { kind: 'point', at: d.points[point], point }
  if (Math.hypot(...p) <= reach) return { kind: 'origin', at: [0, 0] }
  const near: { i: number; at: Place; far: number }[] = []
  d.curves.forEach((c, i) => {
    if (o.but?.curves?.has(i) || !mayBeNear(d, c, p, reach)) return
    const n = nearestOn(d, c, p)
    if (n.distance <= reach) near.push({ i, at: n.at, far: n.distance })
  })
  near.sort((a, b) => a.far - b.far)
  for (const { i } of near) {
    const c = d.curves[i]
    if (c.kind !== 'line' && c.kind !== 'arc') continue
    const m = alongOf(d, c)(0.5)
    if (far(p, m) <= reach) return { kind: 'middle', at: m, middleOf: i }
  }
  if (near.length) return { kind: 'curve', at: near[0].at, onCurve: near[0].i }
  const { corner, line } = onReferences(p, o)
  if (corner) return { kind: 'corner', at: corner }
  const round = o.round ?? ((v: number) => v)
  if (o.from) {
    const [dx, dy] = [Math.abs(p[0] - o.from[0]), Math.abs(p[1] - o.from[1])]
    if (dy <= reach && dx > 2 * reach) return { kind: 'horizontal', at: [round(p[0]), o.from[1]] }
    if (dx <= reach && dy > 2 * reach) return { kind: 'vertical', at: [o.from[0], round(p[1])] }
  }
  if (line) return { kind: 'reference', at: line }
  return { kind: null, at: [round(p[0]), round(p[1])] }
}
