/** Folds are told from sharp places that are sound. */
import { describe, expect, it } from '@jest/globals'
import { blade, spiky } from '@/testing/hard'
import { sheet, shifted, sphere } from '@/testing/shapes'
import { findFolded } from './defects'
import { buildTopology } from './topology'
import { concatMeshes, meshFrom, type TriMesh } from './tri-mesh'

const folds = (m: TriMesh) => findFolded(m, buildTopology(m)).length

/** A flat prism whose section is a lens: sharp on both sides, two triangles a side. */
const lens = (thick: number): TriMesh =>
  meshFrom(
    [0, -10, 0, 60, -10, 0, 0, 10, 0, 60, 10, 0, 0, 0, thick, 60, 0, thick, 0, 0, -thick, 60, 0, -thick],
    [
      ...[0, 1, 5, 0, 5, 4, 4, 5, 3, 4, 3, 2, 2, 3, 7, 2, 7, 6, 6, 7, 1, 6, 1, 0],
      ...[0, 4, 6, 4, 2, 6, 1, 7, 5, 5, 7, 3],
    ],
  )

describe('folds', () => {
  it.each([1, 3, 8, 15])('a blade of %d degrees has none, fine or coarse', (degrees) => {
    expect(folds(blade(degrees, 1))).toBe(0)
    expect(folds(blade(degrees, 40))).toBe(0)
  })
  it('nor has a lens that is sharp on both sides, nor a ball with thin spikes', () => {
    expect(folds(lens(0.4))).toBe(0)
    expect(folds(spiky(4))).toBe(0)
  })
  it('a corner pulled over its neighbour is one, on a level sheet and on a ball', () => {
    const flat = sheet(20, 20)
    const over = flat.positions.slice()
    over[3 * (10 * 21 + 10)] += 1.6
    expect(folds({ positions: over, triangles: flat.triangles })).toBeGreaterThan(0)
    const ball = sphere(10, 4)
    const p = ball.positions.slice()
    const [a, b] = [ball.triangles[0], ball.triangles[1]]
    for (let k = 0; k < 3; k++) p[3 * a + k] += 2.5 * (p[3 * b + k] - p[3 * a + k])
    expect(folds({ positions: p, triangles: ball.triangles })).toBeGreaterThan(0)
  })
  it('a patch slid along the skin folds it; so beside a blade, which does not count', () => {
    const m = sheet(40, 40, (x, y) => 0.2 * Math.sin(x) * Math.cos(y))
    const p = m.positions.slice()
    for (let v = 0; v < p.length; v += 3)
      if (Math.hypot(p[v] - 20, p[v + 1] - 20) < 3) {
        p[v] += 4
        p[v + 2] += 0.15
      }
    const slid = { positions: p, triangles: m.triangles }
    const alone = folds(slid)
    expect(alone).toBeGreaterThan(3)
    expect(folds(concatMeshes([slid, shifted(blade(4), 100, 0, 0)]))).toBe(alone)
  })
  it('a dog-ear at a rim is one', () => {
    const m = meshFrom([0, 0, 0, 10, 0, 0, 10, 10, 0, 0, 10, 0, 6, 6, 0.2], [0, 1, 2, 0, 2, 3, 2, 1, 4])
    expect(folds(m)).toBeGreaterThan(0)
  })
})
