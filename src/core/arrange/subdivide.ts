/** Cuts one triangle along the segments and at the points where others meet it: exact signs, so the pieces never overlap and fit their neighbours'. */
import type { PointTable } from './exact-point'
import { between, longAxis, type Facet, type Segment } from './meeting'
import { PlaneNet } from './plane-net'

/** Segments cross each other and pass through points: each is parted there. Gives the parts as pairs, and adds the points made. */
function partSegments(
  table: PointTable,
  f: Facet,
  segments: readonly Segment[],
  points: Set<number>,
): [number, number][] {
  const { i, j } = f
  const slack = table.slack
  const boxes = segments.map(({ from, to }) => {
    const a = table.coordinate(from, i),
      b = table.coordinate(to, i),
      c = table.coordinate(from, j),
      d = table.coordinate(to, j)
    return [Math.min(a, b) - slack, Math.max(a, b) + slack, Math.min(c, d) - slack, Math.max(c, d) + slack]
  })
  const order = segments.map((_, k) => k).sort((a, b) => boxes[a][0] - boxes[b][0])
  for (let m = 0; m < order.length; m++)
    for (let n = m + 1; n < order.length && boxes[order[n]][0] <= boxes[order[m]][1]; n++) {
      const k = order[m],
        l = order[n]
      if (boxes[k][2] > boxes[l][3] || boxes[l][2] > boxes[k][3]) continue
      const s = segments[k],
        t = segments[l]
      if (s.from === t.from || s.from === t.to || s.to === t.from || s.to === t.to) continue
      if (table.turn(s.from, s.to, t.from, i, j) * table.turn(s.from, s.to, t.to, i, j) >= 0) continue
      if (table.turn(t.from, t.to, s.from, i, j) * table.turn(t.from, t.to, s.to, i, j) >= 0) continue
      points.add(table.onPlanes(f.plane, s.support, t.support))
    }
  const sorted = [...points].sort((a, b) => table.coordinate(a, i) - table.coordinate(b, i))
  const at = sorted.map((v) => table.coordinate(v, i))
  const parts: [number, number][] = []
  segments.forEach(({ from, to }, k) => {
    const on: number[] = []
    let low = 0,
      high = at.length
    while (low < high) {
      const mid = (low + high) >> 1
      if (at[mid] < boxes[k][0]) low = mid + 1
      else high = mid
    }
    for (let q = low; q < at.length && at[q] <= boxes[k][1]; q++) {
      const v = sorted[q]
      if (v === from || v === to) continue
      const y = table.coordinate(v, j)
      if (y < boxes[k][2] || y > boxes[k][3]) continue
      if (table.turn(from, to, v, i, j) === 0 && between(table, from, to, v)) on.push(v)
    }
    const axis = longAxis(table, from, to)
    const way = table.compare(to, from, axis)
    on.sort((a, b) => way * table.compare(a, b, axis))
    const chain = [from, ...on, to]
    for (let q = 0; q + 1 < chain.length; q++) parts.push([chain[q], chain[q + 1]])
  })
  return parts
}

/**
 * The parts of a triangle as corners, three by three, running as the triangle does.
 * @param given edges between two of the points that must be kept as they are: those of a triangle in the same plane that was cut before
 */
export function subdivide(
  table: PointTable,
  f: Facet,
  found: ReadonlySet<number>,
  segments: readonly Segment[],
  given: (points: ReadonlySet<number>) => readonly [number, number][],
): number[] {
  const points = new Set(found)
  for (const v of f.corners) points.add(v)
  for (const s of segments) points.add(s.from).add(s.to)
  const parts = partSegments(table, f, segments, points)
  const net = new PlaneNet(table, f)
  for (const v of points) net.addPoint(v)
  for (const [a, b] of parts) net.addEdge(a, b)
  for (const [a, b] of given(points)) net.addEdge(a, b)
  net.evenOut()
  return net.triangles()
}
