import type { Drawing } from './drawing'

/** Longest way across a drawing, mm; at least a thousandth. */
export function extentOf(d: Drawing): number {
  let x0 = Infinity,
    x1 = -Infinity,
    y0 = Infinity,
    y1 = -Infinity,
    r = 0
  for (const [x, y] of d.points) {
    x0 = Math.min(x0, x)
    x1 = Math.max(x1, x)
    y0 = Math.min(y0, y)
    y1 = Math.max(y1, y)
  }
  for (const c of d.curves) r = Math.max(r, c.kind === 'circle' ? c.radius : c.kind === 'ellipse' ? c.long : 0)
  return Math.max(1e-3, d.points.length ? Math.hypot(x1 - x0, y1 - y0) : 0, 2 * r)
}
