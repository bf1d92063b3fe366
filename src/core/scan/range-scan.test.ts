import { describe, expect, it } from '@jest/globals'
import { NearestPoints } from '@/core/mesh/nearest'
import { checkUp } from '@/core/mesh/check-up'
import { meshArea } from '@/core/mesh/measures'
import { boundsSize, meshBounds, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { box, shifted, sphere } from '@/testing/shapes'
import { rangeScan, type ScanSettings } from './range-scan'

const settings: ScanSettings = {
  stations: 10,
  resolution: 0.5,
  noise: 0.02,
  grazing: 72,
  strays: 0,
  detail: 1.1,
  seed: 4,
}
const largest = (m: TriMesh) => {
  const { piece, count } = findPieces(m, buildTopology(m))
  const size = new Uint32Array(count)
  for (const p of piece) size[p]++
  return Math.max(...size) / piece.length
}
/** Root mean square distance of the scan's vertices from the part. */
function rms(scan: TriMesh, part: TriMesh): number {
  const near = new NearestPoints(part)
  let s = 0
  const n = scan.positions.length / 3
  for (let v = 0; v < n; v++) s += near.distance(vertex(scan, v)) ** 2
  return Math.sqrt(s / n)
}

describe('the simulated scanner', () => {
  const ball = sphere(12, 4)
  const once = rangeScan(ball, settings)
  it('measures a ball to about its noise, all round but where it cannot see', () => {
    const scan = once
    expect(rms(scan, ball)).toBeLessThan(0.08)
    const seen = meshArea(scan) / meshArea(ball)
    expect(seen).toBeGreaterThan(0.75)
    expect(seen).toBeLessThan(1.1)
    expect(checkUp(scan).facts.flippedEdges).toBeLessThan(0.01 * triangleCount(scan))
  })
  it('more noise, more spread; the same seed, the same bytes; another seed, others', () => {
    const few = { ...settings, stations: 3 }
    const quiet = rangeScan(ball, { ...few, noise: 0 }),
      noisy = rangeScan(ball, { ...few, noise: 0.3 })
    expect(rms(noisy, ball)).toBeGreaterThan(2 * rms(quiet, ball))
    const again = rangeScan(ball, settings)
    expect(again.positions).toEqual(once.positions)
    expect(again.triangles).toEqual(once.triangles)
    expect(rangeScan(ball, { ...few, seed: 5 }).positions).not.toEqual(rangeScan(ball, few).positions)
  })
  it('what is hidden has no skin: the floor of a deep pocket and the gap between two bodies', () => {
    const two: TriMesh = {
      positions: Float32Array.from([
        ...box(16, 16, 16, 6).positions,
        ...shifted(box(16, 16, 16, 6), 16.8, 0, 0).positions,
      ]),
      triangles: Uint32Array.from([
        ...box(16, 16, 16, 6).triangles,
        ...box(16, 16, 16, 6).triangles.map((v) => v + box(16, 16, 16, 6).positions.length / 3),
      ]),
    }
    const scan = rangeScan(two, { ...settings, detail: 0.5 })
    // Within the gap of 0.8 mm, away from its mouth, nothing was measured.
    let within = 0
    for (let v = 0; v < scan.positions.length / 3; v++) {
      const [x, y, z] = vertex(scan, v)
      if (x > 16.1 && x < 16.7 && y > 4 && y < 12 && z > 4 && z < 12) within++
    }
    expect(within).toBe(0)
    expect(checkUp(scan).facts.openEdges).toBeGreaterThan(0)
  })
  it('fewer stations leave more open; stray echoes hang loose; a flatter limit sees less', () => {
    const many = once,
      few = rangeScan(ball, { ...settings, stations: 3 })
    expect(meshArea(few)).toBeLessThan(0.95 * meshArea(many))
    const stray = rangeScan(ball, { ...settings, strays: 20 })
    expect(findPieces(stray, buildTopology(stray)).count).toBeGreaterThan(findPieces(many, buildTopology(many)).count)
    expect(largest(stray)).toBeGreaterThan(0.8)
    expect(meshArea(rangeScan(ball, { ...settings, stations: 3, grazing: 40 }))).toBeLessThan(0.9 * meshArea(few))
  })
  it('keeps the size of a block, and a finer cell gives more triangles', () => {
    const block = box(20, 14, 9, 8)
    const coarse = rangeScan(block, { ...settings, resolution: 0.35, detail: 0.9 }),
      fine = rangeScan(block, { ...settings, resolution: 0.35, detail: 0.5 })
    boundsSize(meshBounds(fine)).forEach((v, i) => expect(Math.abs(v - [20, 14, 9][i])).toBeLessThan(1))
    expect(triangleCount(fine)).toBeGreaterThan(2 * triangleCount(coarse))
  })
  it('a stop is heard', () => {
    const stop = new AbortController()
    stop.abort()
    expect(() => rangeScan(ball, settings, { progress: () => {}, signal: stop.signal })).toThrow()
  })
})
