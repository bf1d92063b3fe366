/** The parts arrangements are made of: points without rounding, meetings of two triangles, the net within one. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { PointTable } from './exact-point'
import { between, facetOf, holds, longAxis, meet, type Facet } from './meeting'
import { CutError, PlaneNet } from './plane-net'

const tableOf = (points: number[][]) => {
  const positions = Float32Array.from(points.flat())
  return { positions, table: new PointTable(positions, new Uint8Array(points.length).fill(1)) }
}
const at = (t: PointTable, v: number) => [0, 1, 2].map((k) => t.millimetres(v, k))

describe('points without rounding', () => {
  it('vertices at one place have one number, the two zeros too', () => {
    const { table } = tableOf([
      [0, 1, 2],
      [-0, 1, 2],
      [0.1, 1, 2],
      [0.1, 1, 2],
    ])
    expect([0, 1, 2, 3].map((v) => table.standsFor(v))).toEqual([0, 0, 2, 2])
  })
  it('a point has one number however it is made: on a line, on three planes, or a vertex', () => {
    // 1/3 is no binary fraction, so this holds only without rounding.
    const { table } = tableOf([
      [0, 0, 0],
      [3, 3, 3],
      [1, 0, 0],
      [1, 1, 0],
      [1, 0, 1],
      [0, 1, 0],
      [1, 1, 1],
      [0, 0, 1],
      [0, 3, 0],
      [3, 0, 0],
      [0, 0, 3],
    ])
    const x1 = table.planeOf(2, 3, 4)
    expect(table.onLine(0, 1, x1)).toBe(6)
    const slanted = table.planeOf(9, 8, 10) // x + y + z = 3
    const p = table.onLine(0, 1, slanted)
    expect(p).toBe(6)
    const first = table.onLine(7, 1, slanted) // from (0, 0, 1) along (3, 3, 2): off the grid
    expect(table.isVertex(first)).toBe(false)
    expect(table.onLine(1, 7, slanted)).toBe(first)
    const through = table.planeOf(0, 1, 7) // x = y
    const other = table.planeOf(7, 1, 8)
    expect(table.onPlanes(through, slanted, other)).toBe(first)
    expect(at(table, first).map((v) => Number(v.toFixed(12)))).toEqual([0.75, 0.75, 1.5])
  })
  it('signs of turns are exact where doubles are not', () => {
    // Three points a hair from one line, the hair being the last bit of single precision.
    const e = 2 ** -23
    const { table } = tableOf([
      [0, 0, 0],
      [1, 1, 0],
      [1 + e, 1 + e, 0],
      [1 + e, 1 + 2 * e, 0],
      [1 + 2 * e, 1 + e, 0],
    ])
    expect(table.turn(0, 1, 2, 0, 1)).toBe(0)
    expect(table.turn(0, 1, 3, 0, 1)).toBe(1)
    expect(table.turn(0, 1, 4, 0, 1)).toBe(-1)
    expect(table.turn(0, 1, 3, 1, 0)).toBe(-1)
    expect([table.compare(1, 2, 0), table.compare(2, 1, 0), table.compare(2, 3, 0)]).toEqual([-1, 1, 0])
  })
  it('holds made points for signs too: a third of the way lies on the line, a bit off it does not', () => {
    const { table } = tableOf([
      [0, 0, 0],
      [3, 1, 0],
      [1, -1, 0],
      [1, 1, 0],
      [1, 0, 1],
      [3, 1 + 2 ** -22, 0],
    ])
    const third = table.onLine(0, 1, table.planeOf(2, 3, 4)) // x = 1: (1, 1/3, 0)
    expect(table.turn(0, 1, third, 0, 1)).toBe(0)
    expect(table.turn(0, 5, third, 0, 1)).toBe(-1)
    expect(between(table, 0, 1, third)).toBe(true)
    expect(between(table, 1, third, 0)).toBe(false)
    expect(longAxis(table, 0, 1)).toBe(0)
  })
})

describe('where two triangles meet', () => {
  const base = [
    [0, 0, 0],
    [4, 0, 0],
    [0, 4, 0],
  ]
  const pair = (other: number[][]) => {
    const { positions, table } = tableOf([...base, ...other])
    const id = [0, 1, 2, 3, 4, 5].slice(0, 3 + other.length).map((v) => table.standsFor(v))
    const s = facetOf(table, id[0], id[1], id[2])!,
      t = facetOf(table, id[3], id[4], id[5])!
    const m = meet(table, positions, s, t)
    return m && { ...m, places: m.points.map((v) => at(table, v).map((x) => Number(x.toFixed(9)))) }
  }
  it('passing through gives a segment for both, between the outermost points', () => {
    const m = pair([
      [1, 1, -1],
      [1, 1, 1],
      [5, 5, 0],
    ])!
    expect(m.flat).toBe(false)
    expect([m.first.length, m.second.length]).toEqual([1, 1])
    expect(m.places).toContainEqual([1, 1, 0])
    expect(m.places).toContainEqual([2, 2, 0])
  })
  it('a corner that touches gives a point and no segment', () => {
    const m = pair([
      [1, 1, 0],
      [1, 1, 2],
      [2, 1, 2],
    ])!
    expect([m.points, m.first]).toEqual([[3], []])
  })
  it('an edge that lies in the other gives its part within', () => {
    const m = pair([
      [1, 1, 0],
      [6, 1, 0],
      [3, 1, 3],
    ])!
    expect(m.places).toContainEqual([1, 1, 0])
    expect(m.places).toContainEqual([3, 1, 0])
    expect(m.first).toHaveLength(1)
  })
  it('what neighbours share is no meeting: an edge, a corner, side by side in one plane', () => {
    expect(pair([base[1], base[0], [1, -3, 2]])).toBeNull()
    expect(pair([base[0], [-1, 0, 1], [0, -1, 1]])).toBeNull()
    expect(pair([base[1], base[0], [1, -3, 0]])).toBeNull()
    expect(pair([base[0], base[1], base[2]])).toBeNull()
    expect(
      pair([
        [0, 0, 1],
        [4, 0, 1],
        [0, 4, 1],
      ]),
    ).toBeNull()
  })
  it('a neighbour that folds over lies flat on it', () => {
    const m = pair([base[0], base[1], [1, 1, 0]])!
    expect(m.flat).toBe(true)
    expect(m.places).toContainEqual([1, 1, 0])
  })
  it('triangles in one plane give their overlap: a star of six points', () => {
    const m = pair([
      [2, 2.5, 0],
      [-1, 1, 0],
      [2, -1, 0],
    ])!
    expect(m.flat).toBe(true)
    expect(m.places.length).toBeGreaterThanOrEqual(5)
    for (const [x, y] of m.places) expect(x >= -1 && y >= -1 && x + y <= 4.5).toBe(true)
  })
  it('three corners on a line are no facet', () => {
    const { table } = tableOf([
      [0, 0, 0],
      [1, 1, 1],
      [2, 2, 2],
    ])
    expect(facetOf(table, 0, 1, 2)).toBeNull()
    expect(facetOf(table, 0, 0, 1)).toBeNull()
  })
})

describe('the net within a triangle', () => {
  const square = (f: Facet, t: PointTable, [a, b, c]: number[]) => {
    const p = (v: number) => [t.coordinate(v, f.i), t.coordinate(v, f.j)]
    const [q, r, s] = [p(a), p(b), p(c)]
    return ((r[0] - q[0]) * (s[1] - q[1]) - (r[1] - q[1]) * (s[0] - q[0])) / 2
  }
  it('takes points inside, on edges and twice, and edges between them; all triangles run one way and cover it once', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const rng = random(seed)
      const points = [
        [0, 0, 0],
        [16, 0, 16],
        [0, 16, 0],
      ]
      for (let i = 0; i < 40; i++) {
        const x = Math.floor(16 * rng.next()),
          y = Math.floor((16 - x) * rng.next())
        points.push([x, y, x]) // on the plane z = x, many on a border or on each other
      }
      const { table } = tableOf(points)
      const f = facetOf(table, 0, 1, 2)!
      const net = new PlaneNet(table, f)
      const ids = points.map((_, v) => table.standsFor(v))
      for (const v of ids) {
        expect(holds(table, f, v)).toBe(true)
        net.addPoint(v)
      }
      // A fan of edges from one corner to the first point met in each direction crosses nothing.
      const seen: number[] = []
      for (const v of new Set(ids)) {
        if (v === 0) continue
        if (ids.some((u) => u !== v && u !== 0 && table.turn(0, v, u, f.i, f.j) === 0 && between(table, 0, v, u)))
          continue
        net.addEdge(0, v)
        seen.push(v)
      }
      net.evenOut()
      const k = net.triangles()
      let area = 0
      const edges = new Set<string>()
      for (let i = 0; i < k.length; i += 3) {
        const part = square(f, table, k.slice(i, i + 3))
        expect(part).toBeGreaterThan(0)
        area += part
        for (let c = 0; c < 3; c++)
          edges.add(`${k[i + c]} ${k[i + ((c + 1) % 3)]}`).add(`${k[i + ((c + 1) % 3)]} ${k[i + c]}`)
      }
      expect(area).toBeCloseTo(square(f, table, [0, 1, 2]), 6)
      expect(new Set(k).size).toBe(new Set(ids).size)
      for (const v of seen) expect(edges.has(`0 ${v}`)).toBe(true)
    }
  })
  it('refuses what lies outside', () => {
    const { table } = tableOf([
      [0, 0, 0],
      [4, 0, 0],
      [0, 4, 0],
      [9, 9, 0],
    ])
    const net = new PlaneNet(table, facetOf(table, 0, 1, 2)!)
    expect(() => net.addPoint(3)).toThrow(CutError)
  })
})
