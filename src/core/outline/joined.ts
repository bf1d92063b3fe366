/** A drawing in which points at one place are one. */
import type { Curve, Drawing, Place } from './drawing'

/** The curve with its points renumbered. */
export function renumbered(c: Curve, to: (i: number) => number): Curve {
  switch (c.kind) {
    case 'line':
      return { ...c, from: to(c.from), to: to(c.to) }
    case 'arc':
      return { ...c, from: to(c.from), to: to(c.to), centre: to(c.centre) }
    case 'circle':
    case 'ellipse':
      return { ...c, centre: to(c.centre) }
    case 'spline':
      return {
        ...c,
        ...(c.through ? { through: c.through.map(to) } : {}),
        ...(c.control ? { control: c.control.map(to) } : {}),
      }
  }
}

/** Points nearer than `close` mm to an earlier one are that one; constraints and dimensions follow. */
export function joined(d: Drawing, close: number): Drawing {
  const cells = new Map<string, number[]>()
  const points: Place[] = []
  const size = Math.max(close, 1e-12) * 2
  const to = d.points.map((p) => {
    const [x, y] = [Math.floor(p[0] / size), Math.floor(p[1] / size)]
    for (let dx = -1; dx <= 1; dx++)
      for (let dy = -1; dy <= 1; dy++)
        for (const k of cells.get(`${x + dx} ${y + dy}`) ?? [])
          if (Math.hypot(points[k][0] - p[0], points[k][1] - p[1]) <= close) return k
    points.push(p)
    const key = `${x} ${y}`
    cells.set(key, [...(cells.get(key) ?? []), points.length - 1])
    return points.length - 1
  })
  if (points.length === d.points.length) return d
  const map = (i: number) => to[i]
  const follow = <T extends { points: number[] }>(list: readonly T[] | undefined) =>
    list?.map((c) => ({ ...c, points: c.points.map(map) }))
  return {
    ...d,
    points,
    curves: d.curves.map((c) => renumbered(c, map)),
    ...(d.constraints ? { constraints: follow(d.constraints) } : {}),
    ...(d.dimensions ? { dimensions: follow(d.dimensions) } : {}),
    ...(d.lettering ? { lettering: d.lettering.map((l) => ({ ...l, at: map(l.at) })) } : {}),
  }
}
