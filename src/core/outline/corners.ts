/** Corners of a drawing made round or cut off. */
import { sideways } from './beside'
import { Drawer } from './draw'
import { endsOf, pointsOf, type Curve, type Drawing, type Place } from './drawing'
import { uncut, without } from './edit'
import { meets } from './meets'
import { nearestOn } from './parametric'

/** The two curves that meet at a corner. */
function cornerOf(d: Drawing, point: number): [number, number] | null {
  const list = d.curves.flatMap((c, i) => (!c.construction && endsOf(c)?.includes(point) ? [i] : []))
  return list.length === 2 ? [list[0], list[1]] : null
}

/** The curve with its end at a corner moved to another point. */
const endMoved = (c: Curve, from: number, to: number): Curve =>
  c.kind === 'line' || c.kind === 'arc'
    ? { ...c, from: c.from === from ? to : c.from, to: c.to === from ? to : c.to }
    : c

/** A corner of lines and arcs made round. Null where no such arc fits. */
export function filleted(d: Drawing, point: number, radius: number): Drawing | null {
  const pair = cornerOf(d, point)
  if (!pair || !(radius > 0)) return null
  const [a, b] = pair
  const corner = d.points[point]
  let best: { m: Place; p: Place; q: Place; far: number } | null = null
  for (const s of [-radius, radius])
    for (const t of [-radius, radius]) {
      const [m, n] = [sideways(d, d.curves[a], s), sideways(d, d.curves[b], t)]
      if (!m || !n) continue
      for (const centre of meets(m, n)) {
        const [p, q] = [nearestOn(d, d.curves[a], centre), nearestOn(d, d.curves[b], centre)]
        // It touches both within their lengths.
        if (Math.abs(p.distance - radius) > 1e-7 * radius || Math.abs(q.distance - radius) > 1e-7 * radius) continue
        if ([p.t, q.t].some((v) => v < 1e-9 || v > 1 - 1e-9)) continue
        const far = Math.hypot(centre[0] - corner[0], centre[1] - corner[1])
        if (!best || far < best.far) best = { m: centre, p: p.at, q: q.at, far }
      }
    }
  if (!best) return null
  const { drawing: kept, sharp } = withCorner(d, point, [a, b])
  const w = new Drawer(kept)
  const [p, q, m] = [w.free(best.p), w.free(best.q), w.free(best.m)]
  const turn = (best.p[0] - best.m[0]) * (best.q[1] - best.m[1]) - (best.p[1] - best.m[1]) * (best.q[0] - best.m[0])
  const arc = w.curve({ kind: 'arc', from: p, to: q, centre: m, ccw: turn > 0 })
  w.hold('tangent', [], [a, arc])
  w.hold('tangent', [], [b, arc])
  const out = w.drawing()
  return without(
    {
      ...out,
      curves: out.curves.map((c, i) => (i === a ? endMoved(c, point, p) : i === b ? endMoved(c, point, q) : c)),
      dimensions: [...(out.dimensions ?? []), { kind: 'radius', points: [], curves: [arc], value: radius }],
      constraints: (out.constraints ?? []).filter(
        (c) => !(c.kind === 'tangent' && c.curves.includes(a) && c.curves.includes(b)),
      ),
    },
    { points: !sharp && isLoose(out, point, [a, b]) ? [point] : [], curves: [] },
  )
}

/**
 * The drawing before its corner goes: lengths that ran to the corner become distances to it, and it stays as the place where both curves
 * would meet (`sharp`) if anything speaks of it.
 */
function withCorner(d: Drawing, point: number, pair: readonly [number, number]): { drawing: Drawing; sharp: boolean } {
  const lines = pair.every((k) => d.curves[k].kind === 'line')
  const runs = (k: number) => pair.includes(k)
  const dimensions = (d.dimensions ?? []).map((c) => {
    const k = c.curves[0]
    const line = c.kind === 'length' && c.curves.length === 1 && runs(k) ? d.curves[k] : null
    return lines && line?.kind === 'line'
      ? { ...c, kind: 'distance' as const, points: [line.from, line.to], curves: [] }
      : c
  })
  const sharp =
    lines &&
    (dimensions.some((c) => c.points.includes(point)) || (d.constraints ?? []).some((c) => c.points.includes(point)))
  const bare = pair.reduce(uncut, { ...d, ...(d.dimensions ? { dimensions } : {}) })
  return {
    drawing: sharp
      ? {
          ...bare,
          constraints: [
            ...(bare.constraints ?? []),
            ...pair.map((k) => ({ kind: 'onCurve' as const, points: [point], curves: [k] })),
          ],
        }
      : bare,
    sharp,
  }
}

const isLoose = (d: Drawing, point: number, but: readonly number[]) =>
  !d.curves.some((c, i) => !but.includes(i) && pointsOf(c).includes(point))

/** A corner of two lines cut off at the same distance along both. Null where a line is too short. */
export function chamfered(d: Drawing, point: number, distance: number): Drawing | null {
  const pair = cornerOf(d, point)
  if (!pair || !(distance > 0)) return null
  const ends = pair.map((i) => {
    const c = d.curves[i]
    if (c.kind !== 'line') return null
    const [p, q] = [d.points[point], d.points[c.from === point ? c.to : c.from]]
    const l = Math.hypot(q[0] - p[0], q[1] - p[1])
    return l > distance * (1 + 1e-9)
      ? ([p[0] + ((q[0] - p[0]) * distance) / l, p[1] + ((q[1] - p[1]) * distance) / l] as Place)
      : null
  })
  if (!ends[0] || !ends[1]) return null
  const { drawing: kept, sharp } = withCorner(d, point, pair)
  const w = new Drawer(kept)
  const [p, q] = [w.free(ends[0]), w.free(ends[1])]
  w.curve({ kind: 'line', from: p, to: q })
  const out = w.drawing()
  const [a, b] = pair
  return without(
    {
      ...out,
      curves: out.curves.map((c, i) => (i === a ? endMoved(c, point, p) : i === b ? endMoved(c, point, q) : c)),
    },
    { points: !sharp && isLoose(out, point, pair) ? [point] : [], curves: [] },
  )
}
