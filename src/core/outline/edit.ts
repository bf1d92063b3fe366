/** Changes to what is drawn: taking away, cutting, trimming, going on. Constraints and dimensions of what is gone go with it. */
import type { Curve, Drawing, Place } from './drawing'
import { endsOf, pointsOf } from './drawing'
import { crossingsOf } from './crossings'
import { Drawer } from './draw'
import { extentOf } from './extent'
import { renumbered } from './joined'
import { alongOf, nearestOn } from './parametric'
import { splitAt } from './split'

/** What is picked in a drawing. */
export interface Picked {
  readonly points: readonly number[]
  readonly curves: readonly number[]
}

/** The drawing without some curves and points; curves that need a taken point go too, points that only they needed as well. */
export function without(d: Drawing, { points, curves }: Picked): Drawing {
  const gonePoints = new Set(points)
  const goneCurves = new Set(curves)
  d.curves.forEach((c, i) => {
    if (pointsOf(c).some((p) => gonePoints.has(p))) goneCurves.add(i)
  })
  const used = new Set([
    ...d.curves.flatMap((c, i) => (goneCurves.has(i) ? [] : pointsOf(c))),
    ...(d.lettering ?? []).map((l) => l.at),
  ])
  const once = new Set(d.curves.flatMap(pointsOf))
  const keep = d.points.map((_, i) => !gonePoints.has(i) && (used.has(i) || !once.has(i)))
  const point = renumbering(keep)
  const curve = renumbering(d.curves.map((_, i) => !goneCurves.has(i)))
  const whole = (c: { points: number[]; curves: number[] }) =>
    c.points.every((p) => point[p] >= 0) && c.curves.every((k) => curve[k] >= 0)
  const follow = <T extends { points: number[]; curves: number[] }>(c: T): T => ({
    ...c,
    points: c.points.map((p) => point[p]),
    curves: c.curves.map((k) => curve[k]),
  })
  /** A constraint of many of its kind stays for those that are left. */
  const fewer = <T extends { kind: string; points: number[]; curves: number[] }>(c: T): T[] => {
    if (whole(c)) return [follow(c)]
    if (!['equal', 'parallel', 'concentric', 'fixed', 'coincident', 'onCurve'].includes(c.kind)) return []
    const left = {
      ...c,
      points: c.points.filter((p) => point[p] >= 0),
      curves: c.curves.filter((k) => curve[k] >= 0),
    }
    const many = left.points.length + left.curves.length
    if (c.kind === 'onCurve' && (!left.curves.length || !left.points.length)) return []
    return many >= (c.kind === 'fixed' ? 1 : 2) ? [follow(left)] : []
  }
  return {
    ...d,
    points: d.points.filter((_, i) => keep[i]),
    curves: d.curves.filter((_, i) => !goneCurves.has(i)).map((c) => renumbered(c, (i) => point[i])),
    ...(d.constraints ? { constraints: d.constraints.flatMap(fewer) } : {}),
    ...(d.dimensions ? { dimensions: d.dimensions.filter(whole).map(follow) } : {}),
    ...(d.lettering
      ? {
          lettering: d.lettering
            .filter((l) => point[l.at] >= 0)
            .map((l) => ({
              ...l,
              at: point[l.at],
              around: l.around === undefined || curve[l.around] < 0 ? undefined : curve[l.around],
            })),
        }
      : {}),
  }
}

function renumbering(keep: readonly boolean[]): number[] {
  let n = 0
  return keep.map((k) => (k ? n++ : -1))
}

/** What a cut curve cannot keep: its length, its middle. */
export const uncut = (d: Drawing, curve: number): Drawing => ({
  ...d,
  ...(d.constraints
    ? {
        constraints: d.constraints.filter(
          (c) =>
            !(
              c.curves.includes(curve) &&
              (c.kind === 'midpoint' || (c.kind === 'equal' && d.curves[curve].kind === 'line'))
            ),
        ),
      }
    : {}),
  ...(d.dimensions
    ? {
        dimensions: d.dimensions.filter(
          (c) => !(c.curves.includes(curve) && (c.kind === 'length' || c.kind === 'arcLength')),
        ),
      }
    : {}),
})

/** Shares of a curve at which others cross or end on it. */
function cutsOf(d: Drawing, curve: number): number[] {
  const out: number[] = []
  for (const c of crossingsOf(d, true)) {
    if (c.a === curve) out.push(c.ta)
    if (c.b === curve) out.push(c.tb)
  }
  return [...new Set(out.map((t) => Number(t.toFixed(12))))].sort((a, b) => a - b)
}

/** Cuts a curve in two at the place nearest to p; a closed one there and across. */
export function splitCurve(d: Drawing, curve: number, p: Place): Drawing {
  const { t } = nearestOn(d, d.curves[curve], p)
  const at = endsOf(d.curves[curve]) ? [t] : [t, (t + 0.5) % 1]
  const s = splitAt(uncut(d, curve), curve, at)
  return heldTogether(s.drawing, d, s.pieces)
}

/** Pieces of one arc keep one radius, by sharing its centre; pieces of a line stay in line. */
function heldTogether(now: Drawing, before: Drawing, pieces: readonly number[]): Drawing {
  if (pieces.length < 2) return now
  const kind = before.curves[pieces[0]].kind
  if (kind !== 'line') return now
  return {
    ...now,
    constraints: [
      ...(now.constraints ?? []),
      ...pieces.slice(1).map((k) => ({ kind: 'parallel' as const, points: [], curves: [pieces[0], k] })),
    ],
  }
}

/** Takes away the piece of a curve under p, up to what crosses it on either side; all of it where nothing does. */
export function trimmed(d: Drawing, curve: number, p: Place): Drawing {
  const c = d.curves[curve]
  const { t } = nearestOn(d, c, p)
  const closed = !endsOf(c)
  const cuts = cutsOf(d, curve).filter((v) => closed || (v > 1e-9 && v < 1 - 1e-9))
  if (!cuts.length || (closed && cuts.length < 2)) return without(d, { points: [], curves: [curve] })
  const low = cuts.filter((v) => v <= t).at(-1),
    high = cuts.find((v) => v > t)
  const s = splitAt(
    uncut(d, curve),
    curve,
    closed ? [low ?? cuts[cuts.length - 1], high ?? cuts[0]] : [low, high].filter((v) => v !== undefined),
  )
  // The piece that p lies on.
  const on = s.pieces.reduce((best, k) =>
    nearestOn(s.drawing, s.drawing.curves[k], p).distance < nearestOn(s.drawing, s.drawing.curves[best], p).distance
      ? k
      : best,
  )
  const others = s.pieces.filter((k) => k !== on)
  // New ends stay on what cut them.
  const holds = s.cuts.flatMap((point) => {
    const at = s.drawing.points[point]
    const by = d.curves.findIndex((k, i) => i !== curve && nearestOn(d, k, at).distance < extentOf(d) * 1e-6)
    const used = others.some((k) => pointsOf(s.drawing.curves[k]).includes(point))
    if (by < 0 || !used) return []
    const end = (endsOf(d.curves[by]) ?? []).find(
      (e) => Math.hypot(d.points[e][0] - at[0], d.points[e][1] - at[1]) < extentOf(d) * 1e-6,
    )
    return [
      end === undefined
        ? { kind: 'onCurve' as const, points: [point], curves: [by] }
        : { kind: 'coincident' as const, points: [end, point], curves: [] },
    ]
  })
  return without(
    { ...s.drawing, constraints: [...(s.drawing.constraints ?? []), ...holds] },
    { points: [], curves: [on] },
  )
}

/** Draws a line or arc on from the end nearest to p until it meets another curve. Null where it meets none. */
export function extended(d: Drawing, curve: number, p: Place): Drawing | null {
  const c = d.curves[curve]
  if (c.kind !== 'line' && c.kind !== 'arc') return null
  const near = (i: number) => Math.hypot(d.points[i][0] - p[0], d.points[i][1] - p[1])
  const end = near(c.from) < near(c.to) ? c.from : c.to
  const far = extentOf(d) * 3
  const [a, b] = [d.points[c.from], d.points[c.to]]
  // A trial curve that goes on from the end.
  const trial: Drawing =
    c.kind === 'line'
      ? (() => {
          const [o, e] = end === c.to ? [a, b] : [b, a]
          const l = Math.hypot(e[0] - o[0], e[1] - o[1])
          const tip: Place = [e[0] + ((e[0] - o[0]) / l) * far, e[1] + ((e[1] - o[1]) / l) * far]
          return { points: [...d.points, tip], curves: [...d.curves, { kind: 'line', from: end, to: d.points.length }] }
        })()
      : {
          points: d.points,
          curves: [...d.curves, end === c.to ? { ...c, from: c.to, to: c.from } : { ...c, from: c.to, to: c.from }],
        }
  const last = trial.curves.length - 1
  const along = alongOf(trial, trial.curves[last])
  const forward = c.kind === 'line' || end === c.to
  const hits = crossingsOf(trial, true)
    .filter((x) => (x.a === last || x.b === last) && x.a !== curve && x.b !== curve)
    .map((x) => ({ t: x.a === last ? x.ta : x.tb, other: x.a === last ? x.b : x.a }))
    .map((x) => ({ ...x, way: forward ? x.t : 1 - x.t }))
    .filter((x) => x.way > 1e-9)
    .sort((m, n) => m.way - n.way)
  const hit = hits[0]
  if (!hit) return null
  const w = new Drawer(uncut(d, curve))
  const point = w.point({ at: along(hit.t), onCurve: hit.other })
  const out = w.drawing()
  const curves = out.curves.map((k, i): Curve => {
    if (i !== curve || (k.kind !== 'line' && k.kind !== 'arc')) return k
    return k.from === end ? { ...k, from: point } : { ...k, to: point }
  })
  return without({ ...out, curves }, { points: [], curves: [] })
}

/** Turns construction on for what is picked, or off where all of it is construction. */
export function constructionTurned(d: Drawing, picked: readonly number[]): Drawing {
  const all = picked.every((k) => d.curves[k].construction)
  return {
    ...d,
    curves: d.curves.map((c, i): Curve => {
      if (!picked.includes(i)) return c
      return all ? { ...c, construction: undefined } : { ...c, construction: true }
    }),
  }
}
