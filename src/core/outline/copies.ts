/** Copies of what is picked, and moves of it: by maps of the plane, or mirrored in a line. */
import { Drawer } from './draw'
import { pointsOf, type Curve, type Drawing, type Place } from './drawing'
import type { Picked } from './edit'
import { extentOf } from './extent'
import { renumbered } from './joined'
import { transformed, type Flat } from './transform'

/** What is picked, as a drawing of its own with the numbers it came from. */
function cutOut(d: Drawing, { points, curves }: Picked): { part: Drawing; pointOf: number[]; curveOf: number[] } {
  const pointOf = [...new Set([...points, ...curves.flatMap((i) => pointsOf(d.curves[i]))])]
  const to = new Map(pointOf.map((p, i) => [p, i]))
  const curveOf = [...curves]
  return {
    part: {
      points: pointOf.map((p) => d.points[p]),
      curves: curveOf.map((i) => renumbered(d.curves[i], (p) => to.get(p)!)),
    },
    pointOf,
    curveOf,
  }
}

/** Copies of what is picked under maps, with those constraints and sizes that lie wholly within it and every map keeps. */
export function copied(d: Drawing, picked: Picked, maps: readonly Flat[]): Drawing {
  const { part, pointOf, curveOf } = cutOut(d, picked)
  const inner = (c: { points: number[]; curves: number[] }) =>
    c.points.every((p) => pointOf.includes(p)) && c.curves.every((k) => curveOf.includes(k))
  const out = { points: [...d.points], curves: [...d.curves], constraints: [...(d.constraints ?? [])] }
  for (const m of maps) {
    const moved = transformed(part, m)
    const base = out.points.length,
      first = out.curves.length
    out.points.push(...moved.points)
    out.curves.push(...moved.curves.map((c) => renumbered(c, (i) => base + i)))
    const turned = Math.abs(m[1]) + Math.abs(m[2]) > 1e-12
    const follows = [
      'tangent',
      'equal',
      'perpendicular',
      'parallel',
      'concentric',
      'coincident',
      'onCurve',
      'midpoint',
      'collinear',
    ]
    for (const c of d.constraints ?? []) {
      if (!inner(c) || !(follows.includes(c.kind) || (!turned && (c.kind === 'horizontal' || c.kind === 'vertical'))))
        continue
      out.constraints.push({
        ...c,
        points: c.points.map((p) => base + pointOf.indexOf(p)),
        curves: c.curves.map((k) => first + curveOf.indexOf(k)),
      })
    }
    // Round ones stay as large as those they are copies of.
    curveOf.forEach((k, i) => {
      const c = d.curves[k]
      if (c.kind === 'circle' || c.kind === 'arc')
        out.constraints.push({ kind: 'equal', points: [], curves: [k, first + i] })
    })
  }
  return { ...d, ...out }
}

/** What is picked moved by a map; constraints to the rest stay and pull it back where they must. */
export function moved(d: Drawing, picked: Picked, m: Flat): Drawing {
  const { part, pointOf, curveOf } = cutOut(d, picked)
  const there = transformed(part, m)
  const points = [...d.points],
    curves = [...d.curves]
  pointOf.forEach((p, i) => (points[p] = there.points[i]))
  curveOf.forEach((k, i) => {
    const c = there.curves[i]
    if (c.kind === curves[k].kind && there.points.length === part.points.length)
      curves[k] = renumbered(c, (p) => pointOf[p])
  })
  return { ...d, points, curves }
}

/** The map that mirrors in a line of the drawing. */
export function mirrorMap(d: Drawing, line: number): Flat | null {
  const c = d.curves[line]
  if (c?.kind !== 'line') return null
  const [p, q] = [d.points[c.from], d.points[c.to]]
  const a = 2 * Math.atan2(q[1] - p[1], q[0] - p[0])
  const [cos, sin] = [Math.cos(a), Math.sin(a)]
  return [cos, sin, sin, -cos, p[0] - cos * p[0] - sin * p[1], p[1] - sin * p[0] + cos * p[1]]
}

/** What is picked mirrored in a line, held symmetric to where it came from. */
export function mirrored(d: Drawing, picked: Picked, line: number): Drawing | null {
  const m = mirrorMap(d, line)
  const curves = picked.curves.filter((k) => k !== line)
  if (!m || !(curves.length + picked.points.length)) return null
  const { part, pointOf } = cutOut(d, { points: picked.points, curves })
  const there = transformed(part, m)
  const axis = d.curves[line] as Extract<Curve, { kind: 'line' }>
  const w = new Drawer(d)
  const on = (p: Place) => {
    const [s, e] = [d.points[axis.from], d.points[axis.to]]
    const l = Math.hypot(e[0] - s[0], e[1] - s[1])
    return Math.abs((e[0] - s[0]) * (p[1] - s[1]) - (e[1] - s[1]) * (p[0] - s[0])) / l < extentOf(d) * 1e-7
  }
  // What lies on the line is its own twin, so that halves join.
  const twin = pointOf.map((p, i) => (on(d.points[p]) ? p : w.free(there.points[i])))
  pointOf.forEach((p, i) => {
    if (twin[i] !== p) w.hold('symmetric', [p, twin[i]], [line])
  })
  there.curves.forEach((c, i) => {
    const k = w.curve(renumbered(c, (p) => twin[p]))
    if (c.kind === 'circle') w.hold('equal', [], [curves[i], k])
  })
  return w.drawing()
}
