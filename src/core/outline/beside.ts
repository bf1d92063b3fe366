/** Lines, arcs and circles moved sideways: what offsets and round corners are made of. */
import { Drawer } from './draw'
import { endsOf, type Curve, type Drawing, type Place } from './drawing'
import { extentOf } from './extent'
import { meets, type Round, type Straight } from './meets'

/** A line or arc moved sideways, to its left by `by`; null for an arc that shrinks to nothing. */
export function sideways(d: Drawing, c: Curve, by: number): Round | Straight | null {
  if (c.kind === 'line') {
    const [p, q] = [d.points[c.from], d.points[c.to]]
    const l = Math.hypot(q[0] - p[0], q[1] - p[1])
    const way: Place = [(q[0] - p[0]) / l, (q[1] - p[1]) / l]
    return { at: [p[0] - by * way[1], p[1] + by * way[0]], way }
  }
  if (c.kind !== 'arc' && c.kind !== 'circle') return null
  const m = d.points[c.centre]
  const r = c.kind === 'circle' ? c.radius : Math.hypot(d.points[c.from][0] - m[0], d.points[c.from][1] - m[1])
  const radius = r - (c.kind === 'circle' || c.ccw ? by : -by)
  return radius > 1e-9 ? { centre: m, radius } : null
}

/** The runs of picked curves moved sideways by a distance, to the left of each run as it goes; corners where the moved curves meet. */
export function offsetBeside(d: Drawing, picked: readonly number[], by: number): Drawing | null {
  const lines = picked.filter((k) => ['line', 'arc'].includes(d.curves[k].kind))
  const w = new Drawer(d)
  let made = 0
  for (const k of picked) {
    const c = d.curves[k]
    if (c.kind !== 'circle') continue
    const s = sideways(d, c, -by)
    if (!s || 'way' in s) return null
    w.curve({ kind: 'circle', centre: c.centre, radius: s.radius })
    made++
  }
  for (const run of runsOf(d, lines)) {
    const curves = run.list.map(({ curve, forward }) => ({
      c: d.curves[curve],
      side: sideways(d, d.curves[curve], forward ? by : -by),
      forward,
    }))
    if (curves.some((x) => !x.side)) return null
    const n = curves.length
    const ends: Place[] = []
    const foot = (s: Round | Straight, p: Place): Place => {
      if ('way' in s) {
        const t = (p[0] - s.at[0]) * s.way[0] + (p[1] - s.at[1]) * s.way[1]
        return [s.at[0] + t * s.way[0], s.at[1] + t * s.way[1]]
      }
      const l = Math.hypot(p[0] - s.centre[0], p[1] - s.centre[1])
      return [s.centre[0] + ((p[0] - s.centre[0]) * s.radius) / l, s.centre[1] + ((p[1] - s.centre[1]) * s.radius) / l]
    }
    for (let i = 0; i <= n; i++) {
      const at = d.points[i < n ? run.points[i] : run.points[run.closed ? 0 : n]]
      const before = i > 0 ? curves[i - 1] : run.closed ? curves[n - 1] : null
      const after = i < n ? curves[i] : run.closed ? curves[0] : null
      if (!before || !after) {
        ends.push(foot((after ?? before)!.side!, at))
        continue
      }
      const [p, q] = [foot(before.side!, at), foot(after.side!, at)]
      const middle: Place = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]
      const near = meets(before.side!, after.side!).sort(
        (a, b) => Math.hypot(a[0] - middle[0], a[1] - middle[1]) - Math.hypot(b[0] - middle[0], b[1] - middle[1]),
      )[0]
      // Smooth joins stay where they are.
      ends.push(Math.hypot(p[0] - q[0], p[1] - q[1]) < extentOf(d) * 1e-9 || !near ? middle : near)
    }
    const numbers = ends.slice(0, run.closed ? n : n + 1).map((p) => w.free(p))
    curves.forEach(({ c, side, forward }, i) => {
      const [from, to] = [numbers[i], numbers[(i + 1) % numbers.length]]
      const [a, b] = forward ? [from, to] : [to, from]
      if ('way' in side!) w.curve({ kind: 'line', from: a, to: b })
      else if (c.kind === 'arc') w.curve({ kind: 'arc', from: a, to: b, centre: c.centre, ccw: c.ccw })
      made++
    })
  }
  return made ? w.drawing() : null
}

/** Curves in rows, each from end to end. */
function runsOf(d: Drawing, picked: readonly number[]) {
  const left = new Set(picked)
  const at = (p: number) => [...left].filter((k) => endsOf(d.curves[k])!.includes(p))
  const runs: { list: { curve: number; forward: boolean }[]; points: number[]; closed: boolean }[] = []
  while (left.size) {
    const ends = [...left].flatMap((k) => endsOf(d.curves[k])!)
    const loose = ends.find((p) => ends.filter((q) => q === p).length === 1)
    const start = loose ?? endsOf(d.curves[[...left][0]])![0]
    const list: { curve: number; forward: boolean }[] = []
    const points = [start]
    for (let p = start; ;) {
      const k = at(p)[0]
      if (k === undefined) break
      left.delete(k)
      const [a, b] = endsOf(d.curves[k])!
      list.push({ curve: k, forward: a === p })
      p = a === p ? b : a
      points.push(p)
      if (p === start) break
    }
    runs.push({ list, points, closed: points.length > 2 && points[points.length - 1] === start })
  }
  return runs
}
