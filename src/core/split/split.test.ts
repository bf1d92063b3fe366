import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { takeApart } from '@/core/mend/take-apart'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { random } from '@/core/math/random'
import { normalize } from '@/core/math/vec'
import { quiet } from '@/core/base/work'
import { box, cylinder, inward, shaken, sheet, shifted, sphere, torus, without } from '@/testing/shapes'
import { fillRings } from './cap'
import { cutByPlane } from './plane-cut'
import { cutBySurface } from './surface-cut'
import { splitByMesh, trimByPlane, trimByView } from './trim'

const sound = (m: Parameters<typeof checkUp>[0]) => expect(faultCount(checkUp(m).facts)).toBe(0)

describe('cut by a plane', () => {
  it('a sphere gives caps of pi h² (3 r - h) / 3 (Archimedes), closed and sound', () => {
    for (const h of [2, 6, 10]) {
      const c = cutByPlane(sphere(10, 6), [0, 0, 10 - h], [0, 0, 1])
      expect(meshVolume(c.above) / ((Math.PI * h * h * (30 - h)) / 3)).toBeCloseTo(1, 2)
      expect(meshVolume(c.above) + meshVolume(c.below)).toBeCloseTo(meshVolume(sphere(10, 6)), 2)
      sound(c.above)
      sound(c.below)
    }
  })
  it('a cone gives a frustum: pi h (R² + R r + r²) / 3', () => {
    const cone = cylinder(6, 12, 512, 1)
    const p = cone.positions.slice()
    for (let v = 0; v < p.length; v += 3) {
      const s = 1 - p[v + 2] / 12.0001
      p[v] *= s
      p[v + 1] *= s
    }
    const c = cutByPlane({ positions: p, triangles: cone.triangles }, [0, 0, 6], [0, 0, 1])
    expect(meshVolume(c.below) / ((Math.PI * 6 * (36 + 18 + 9)) / 3)).toBeCloseTo(1, 3)
  })
  it('random planes through a ring: volumes add up, nothing is left open', () => {
    const ring = torus(10, 3, 60, 30)
    const rng = random(13)
    for (let i = 0; i < 25; i++) {
      const n = normalize([rng.normal(), rng.normal(), rng.normal()])
      const c = cutByPlane(ring, [rng.normal() * 3, rng.normal() * 3, rng.normal()], n)
      expect(meshVolume(c.above) + meshVolume(c.below)).toBeCloseTo(meshVolume(ring), 2)
      for (const half of [c.above, c.below])
        if (triangleCount(half))
          expect(checkUp(half).facts).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, selfCrossings: 0 })
    }
  })
  it('faces in the plane stay whole and are counted', () => {
    const c = cutByPlane(box(10, 10, 10, 2), [0, 0, 10], [0, 0, 1])
    expect(c.flush).toBe(8)
    expect(triangleCount(c.below)).toBe(48)
    expect(trimByPlane(box(10, 10, 10, 4), [0, 0, 5], [0, 0, 1], true)).toMatchObject({ warnings: [] })
    expect(trimByPlane(box(10, 10, 10, 2), [0, 0, 5], [0, 0, 1], true).facts.capArea).toBeCloseTo(100, 4)
    expect(() => trimByPlane(box(1, 1, 1), [0, 0, 5], [0, 0, 1], true)).toThrow(/one side/)
  })
  it('a hollow body gets a ring for a cover', () => {
    const hollow = concatMeshes([box(20, 20, 20, 2), shifted(inward(box(10, 10, 10, 2)), 5, 5, 5)])
    const c = cutByPlane(hollow, [0, 0, 9.5], [0, 0, 1])
    expect(c.capArea).toBeCloseTo(300, 3)
    sound(c.above)
  })
})

describe('rings filled in the plane', () => {
  const ring = (r: number, n: number, x = 0): [number, number][] =>
    Array.from({ length: n }, (_, i) => [x + r * Math.cos((2 * Math.PI * i) / n), r * Math.sin((2 * Math.PI * i) / n)])
  const area = (r: number, n: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n)
  it('nest by turns, whichever way they run', () => {
    const f = fillRings([ring(10, 80), ring(6, 60).reverse(), ring(3, 40), ring(1, 20, 30)])
    expect(f.area).toBeCloseTo(area(10, 80) - area(6, 60) + area(3, 40) + area(1, 20), 6)
    expect(f).toMatchObject({ filled: 3, failed: 0 })
  })
})

describe('cut by a surface', () => {
  it('a sphere by a sheet, open as it is: areas of zones 2 pi r h (Archimedes)', () => {
    const s = sphere(10, 6)
    const c = cutBySurface(s, shifted(sheet(30, 3), -15.1, -15.2, 4))
    expect(c.undivided).toBe(0)
    expect(meshArea(c.above) / (2 * Math.PI * 10 * 6)).toBeCloseTo(1, 2)
    expect(meshArea(c.above) + meshArea(c.below)).toBeCloseTo(meshArea(s), 3)
    expect(c.length / (2 * Math.PI * Math.sqrt(84))).toBeCloseTo(1, 2)
    expect(checkUp(c.above).facts).toMatchObject({ nonManifoldEdges: 0, flippedEdges: 0 })
    expect(checkUp(c.above).facts.holes).toHaveLength(1)
  })
  it('corners exactly on the cutter do not break it', () => {
    const c = cutBySurface(box(10, 10, 10, 5), shifted(sheet(20, 5), -5, -5, 4))
    expect(meshArea(c.above)).toBeCloseTo(100 + 4 * 60, 2)
  })
  it('a cutter that ends inside is told', () =>
    expect(cutBySurface(sphere(10, 5), shifted(sheet(8, 3), -4, -12, 4)).undivided).toBeGreaterThan(0))
  it('a crossing soup is cut all the same', () => {
    const soup = concatMeshes([
      sphere(10, 4),
      shifted(sphere(8, 4), 6, 1, 0.5),
      without(shaken(sphere(5, 3), 0.2), (x) => x > 3),
    ])
    const c = cutBySurface(
      soup,
      shifted(
        sheet(60, 4, (x) => 2 * Math.sin(x / 4)),
        -30,
        -30,
        1,
      ),
    )
    expect(meshArea(c.above) + meshArea(c.below)).toBeCloseTo(meshArea(soup), 2)
    for (let t = 0; t < c.above.triangles.length; t++)
      expect(c.above.triangles[t]).toBeLessThan(c.above.positions.length / 3)
  })
})

describe('trim by a line drawn in a view', () => {
  const toward: [number, number, number] = [0, 1, 0]
  const b = box(10, 10, 10, 4)
  it('a straight stroke is a plane; side A lies to its left as drawn', async () => {
    const h = await trimByView(
      'b',
      b,
      {
        toward,
        line: [
          [-5, -20, 4],
          [15, -20, 4],
        ],
      },
      false,
      true,
      quiet,
    )
    expect([meshVolume(h.a), meshVolume(h.b)].map((v) => Number(v.toFixed(3)))).toEqual([600, 400])
    const back = await trimByView(
      'b',
      b,
      {
        toward,
        line: [
          [15, -20, 4],
          [-5, -20, 4],
        ],
      },
      false,
      true,
      quiet,
    )
    expect(meshVolume(back.a)).toBeCloseTo(400, 3)
  })
  it('a bent line cuts along each of its parts: areas of trapezia', async () => {
    const h = await trimByView(
      'b',
      b,
      {
        toward,
        line: [
          [-1, -20, 4],
          [5, -20, 6],
          [11, -20, 4],
        ],
      },
      false,
      true,
      quiet,
    )
    expect(meshVolume(h.b)).toBeCloseTo(10 * 2 * 5 * ((4 + 1 / 3 + 6) / 2), 2)
    sound(h.a)
    sound(h.b)
  })
  it('in perspective the planes go through the eye', async () => {
    const h = await trimByView(
      'b',
      b,
      {
        eye: [5, -60, 5],
        toward,
        line: [
          [4, -59, 5.01],
          [6, -59, 5.01],
        ],
      },
      false,
      true,
      quiet,
    )
    // Height above the eye grows with depth: 0.6 at the front (60 mm away), 0.7 at the back.
    expect(meshBounds(h.b).max[2]).toBeCloseTo(5.7, 3)
    expect(meshVolume(h.b)).toBeCloseTo(10 * 10 * (5 + 0.65), 2)
  })
  it('an outline drawn either way round keeps its inside as side A, closed or open', async () => {
    const line: [number, number, number][] = [
      [3, -20, 3],
      [7, -20, 3],
      [7, -20, 7],
      [3, -20, 7],
    ]
    for (const way of [line, [...line].reverse()]) {
      expect(meshVolume((await trimByView('b', b, { toward, line: way }, true, true, quiet)).a)).toBeCloseTo(160, 2)
      const open = await trimByView(
        'b',
        without(b, (_x, _y, z) => z > 9.99),
        { toward, line: way },
        true,
        false,
        quiet,
      )
      expect(meshBounds(open.a).max[2]).toBeCloseTo(7, 4)
    }
  })
})

describe('split and take apart', () => {
  it('with a closed body: both sides closed, volumes add up', async () => {
    const h = await splitByMesh('b', box(10, 10, 10, 4), shifted(sphere(4, 5), 10, 10, 10), true, quiet)
    expect(meshVolume(h.b) / (((4 / 3) * Math.PI * 64) / 8)).toBeCloseTo(1, 2)
    expect(meshVolume(h.a) + meshVolume(h.b)).toBeCloseTo(1000, 3)
    sound(h.a)
    sound(h.b)
  })
  it('pieces come largest first and lose nothing', () => {
    const all = concatMeshes([sphere(2, 2), box(5, 5, 5, 2), sphere(1, 1)])
    const p = takeApart(all, 0)
    expect(p.pieces.map(triangleCount)).toEqual([48, 128, 32])
    expect(p.pieces.reduce((s, m) => s + meshArea(m), 0)).toBeCloseTo(meshArea(all), 3)
    expect(takeApart(all, 0.2).leftOut).toBe(1)
  })
})
