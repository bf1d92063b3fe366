/** The signs of constraints, beside what they hold. */
import { useMemo } from 'react'
import { type Place } from '@/core/outline/drawing'
import { alongOf } from '@/core/outline/parametric'
import { constraintWord } from '@/core/outline/words'
import { marksOf } from './dimension-marks'
import { type Part } from './path-of'
import { Sign } from './signs'
import { outline, useOutline } from './state'

/** Steps by which a sign may stand aside, pixels, the least first. */
const asides = [0, 18, 36].flatMap((r) =>
  r
    ? [
        [r, 0],
        [0, r],
        [-r, 0],
        [0, -r],
        [r, r],
        [-r, r],
        [r, -r],
        [-r, -r],
      ]
    : [[0, 0]],
)

/** Where the signs of constraints stand: beside their first curve or point, one after the other. */
export function Signs({ d, at, px }: Part) {
  const sign = useOutline((s) => s.sign)
  const placed = useMemo(() => {
    const taken = new Map<string, number>()
    const out: { i: number; x: number; y: number; key: string }[] = []
    const put = (i: number, anchor: string, [x, y]: Place, [dx, dy]: Place, way: Place, key: string) => {
      const n = taken.get(anchor) ?? 0
      taken.set(anchor, n + 1)
      const along = (n % 2 ? -1 : 1) * Math.ceil(n / 2) * 18
      out.push({ i, key, x: x + dx + way[0] * along, y: y + dy + way[1] * along })
    }
    d.constraints?.forEach((c, i) => {
      const onCurve = (k: number) => {
        const along = alongOf(d, d.curves[k])
        // Not where the figure of a radius or diameter stands.
        const t = { circle: 0.375, ellipse: 0.375, arc: 0.5, line: 0.5, spline: 0.5 }[d.curves[k].kind]
        const [p, q] = [at(along(t - 0.01)), at(along(t + 0.01))]
        const l = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1
        const way: Place = [(q[0] - p[0]) / l, (q[1] - p[1]) / l]
        const m = at(along(t))
        const c = d.curves[k]
        const from = 'centre' in c ? at(d.points[c.centre]) : null
        // Whole round ones have theirs outside, so that the centre stays free; arcs inside, where no figure stands.
        const outward = from && (m[0] - from[0]) * way[1] - (m[1] - from[1]) * way[0] < 0 ? -15 : 15
        const side = c.kind === 'arc' ? -outward : outward
        put(i, `c${k}`, m, [way[1] * side, -way[0] * side], way, `${i} ${k}`)
      }
      const onPoint = (p: number) => put(i, `p${p}`, at(d.points[p]), [14, 14], [1, 0], `${i} p${p}`)
      if (c.kind === 'tangent' || c.kind === 'perpendicular') {
        const ends = c.curves.map((k) => {
          const v = d.curves[k]
          return v.kind === 'line' || v.kind === 'arc' ? [v.from, v.to] : []
        })
        const shared = ends[0]?.find((p) => ends[1]?.includes(p))
        if (shared !== undefined) return onPoint(shared)
        return onCurve(c.curves[c.curves.length - 1])
      }
      if (c.kind === 'equal' || c.kind === 'parallel' || c.kind === 'collinear') return c.curves.forEach(onCurve)
      if (c.points.length) return c.points.slice(0, c.kind === 'onCurve' ? undefined : 1).forEach(onPoint)
      c.curves.slice(0, c.kind === 'horizontal' || c.kind === 'vertical' ? undefined : 1).forEach(onCurve)
    })
    // None lies on another or on a figure: it steps aside to the first free place.
    const figures = (d.dimensions ?? []).map((c) => at(marksOf(d, c, px).at))
    const laid: { x: number; y: number }[] = []
    const free = (x: number, y: number) =>
      laid.every((o) => Math.abs(o.x - x) >= 17 || Math.abs(o.y - y) >= 17) &&
      figures.every(([u, v]) => Math.abs(u - x) >= 34 || Math.abs(v - y) >= 18)
    for (const o of out) {
      const step = asides.find(([dx, dy]) => free(o.x + dx, o.y + dy)) ?? [0, 0]
      o.x += step[0]
      o.y += step[1]
      laid.push(o)
    }
    return out
  }, [d, at, px])
  return placed.map(({ i, x, y, key }) => (
    <button
      key={key}
      type="button"
      className={`sign${sign?.of === 'constraint' && sign.index === i ? ' picked' : ''}`}
      style={{ transform: `translate(${x - 8}px, ${y - 8}px)` }}
      title={constraintWord(d, d.constraints![i])}
      aria-label={constraintWord(d, d.constraints![i])}
      onClick={() => outline.setState({ sign: { of: 'constraint', index: i }, points: [], curves: [] })}
    >
      <Sign kind={d.constraints![i].kind} />
    </button>
  ))
}
