/** A fitted curve set beside those that are drawn: ends that nearly meet are brought to where both curves meet exactly. */
import { sideways } from './beside'
import { wayOut } from './along'
import { Drawer } from './draw'
import { endsOf, type Curve, type Drawing, type Place } from './drawing'
import { renumbered } from './joined'
import { meets } from './meets'

/** Joins run on smoothly where their ways differ by less than this, degrees. */
const smooth = 6

/**
 * Adds the one curve of `part` to a drawing. An end of it within `reach` of an end that is there becomes one with it: at the place where
 * both curves meet if that is near, held tangent where they run on smoothly.
 */
export function attached(d: Drawing, part: Drawing, reach: number): Drawing {
  const added = part.curves[0]
  const ends = endsOf(added)
  const w = new Drawer(d)
  const numbers = new Map<number, number>()
  const moved = new Map<number, Place>()
  const joins: { end: number; other: number; at: number }[] = []
  for (const e of ends ?? []) {
    const p = part.points[e]
    let best = -1
    d.curves.forEach((c) => {
      for (const q of endsOf(c) ?? [])
        if (Math.hypot(d.points[q][0] - p[0], d.points[q][1] - p[1]) <= reach) {
          if (
            best < 0 ||
            Math.hypot(d.points[q][0] - p[0], d.points[q][1] - p[1]) <
              Math.hypot(d.points[best][0] - p[0], d.points[best][1] - p[1])
          )
            best = q
        }
    })
    if (best < 0 || [...numbers.values()].includes(best)) continue
    const other = d.curves.findLastIndex((c) => !!endsOf(c)?.includes(best))
    const middle: Place = [(p[0] + d.points[best][0]) / 2, (p[1] + d.points[best][1]) / 2]
    const [a, b] = [sideways(part, added, 0), sideways(d, d.curves[other], 0)]
    const near =
      a && b
        ? meets(a, b)
            .filter((q) => Math.hypot(q[0] - middle[0], q[1] - middle[1]) <= 2 * reach)
            .sort(
              (m, n) => Math.hypot(m[0] - middle[0], m[1] - middle[1]) - Math.hypot(n[0] - middle[0], n[1] - middle[1]),
            )[0]
        : undefined
    // Splines end where they end: a line or arc comes to them.
    const at = near ?? (added.kind === 'spline' ? p : d.points[best])
    moved.set(best, at)
    numbers.set(e, best)
    joins.push({ end: best, other, at: e })
  }
  const number = (i: number) => {
    let n = numbers.get(i)
    if (n === undefined) numbers.set(i, (n = w.free(part.points[i])))
    return n
  }
  const curve = w.curve(renumbered(added, number))
  for (const j of joins) {
    const out = w.drawing()
    const [v, u] = [wayOut(out, out.curves[j.other], j.end), wayOut(out, out.curves[curve], j.end)]
    if (!v || !u) continue
    const turn = (Math.acos(Math.max(-1, Math.min(1, -(v[0] * u[0] + v[1] * u[1])))) * 180) / Math.PI
    const straight = (c: Curve) => c.kind === 'line'
    if (turn < smooth && !(straight(added) && straight(d.curves[j.other]))) w.hold('tangent', [], [j.other, curve])
  }
  const out = w.drawing()
  return { ...out, points: out.points.map((p, i) => moved.get(i) ?? p) }
}
