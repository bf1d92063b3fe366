/** One curve of an outline as scripts read it: circles and arcs with their centre in space. */
import type { OutlineBody } from '@/core/bodies/body'
import { toSpace, type Curve } from '@/core/outline/drawing'
import { sweepOf } from '@/core/outline/sample'
import type { Facts } from '@/core/step/step'

const tidy = (v: readonly number[]) => v.map((x) => Number(x.toFixed(6)))

export function toldCurve(body: OutlineBody, c: Curve): Facts {
  const { points } = body.drawing
  const place = (i: number) => tidy(toSpace(body.plane, points[i]))
  switch (c.kind) {
    case 'line':
      return { kind: c.kind, from: place(c.from), to: place(c.to) }
    case 'arc': {
      const [p, m] = [points[c.from], points[c.centre]]
      return {
        kind: c.kind,
        centre: place(c.centre),
        radius: Math.hypot(p[0] - m[0], p[1] - m[1]),
        from: place(c.from),
        to: place(c.to),
        angle: Math.abs(sweepOf(body.drawing, c)),
      }
    }
    case 'circle':
      return { kind: c.kind, centre: place(c.centre), radius: c.radius }
    case 'ellipse':
      return { kind: c.kind, centre: place(c.centre), long: c.long, short: c.short, turn: c.turn }
    case 'spline':
      return { kind: c.kind, control: c.control?.length ?? 0, closed: !!c.closed }
  }
}
