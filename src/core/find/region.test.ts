import { describe, expect, it } from '@jest/globals'
import { meshArea } from '@/core/mesh/measures'
import { concatMeshes, corners, keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { refine } from '@/core/mend/refine'
import { addFolds } from '@/demo/damage'
import { box, cylinder, shifted, sphere, without } from '@/testing/shapes'
import { regionSchema, resolveRegion, type Region } from './region'

const picked = (mesh: TriMesh, region: Region): number[] =>
  Array.from(resolveRegion(mesh, region).entries())
    .filter(([, f]) => f)
    .map(([t]) => t)
const area = (mesh: TriMesh, region: Region): number => meshArea(keepTriangles(mesh, resolveRegion(mesh, region)).mesh)
const middle = (mesh: TriMesh, t: number) =>
  corners(mesh, t).reduce((s, p) => [s[0] + p[0] / 3, s[1] + p[1] / 3, s[2] + p[2] / 3], [0, 0, 0])

/** A loop on the plane z = 100, seen straight down from above. */
const fromAbove = (loop: [number, number][], through = false): Region[number] => ({
  pick: 'loop',
  mode: 'add',
  toward: [0, 0, -1],
  loop: loop.map(([x, y]) => [x, y, 100]),
  through,
})

describe('a region by each way of picking', () => {
  const cube = box(20, 20, 20, 10)
  it('grow stops at edges that bend more than its angle', () => {
    expect(area(cube, [{ pick: 'grow', mode: 'add', at: [10, 10, 20], angle: 30 }])).toBeCloseTo(400, 6)
    expect(area(cube, [{ pick: 'grow', mode: 'add', at: [10, 10, 20], angle: 91 }])).toBeCloseTo(2400, 6)
    // The wall of a 36-sided rod bends by 10 degrees from side to side.
    const rod = cylinder(10, 30, 36, 3)
    expect(area(rod, [{ pick: 'grow', mode: 'add', at: [10, 0, 15], angle: 9 }])).toBeLessThan(meshArea(rod) / 30)
    expect(area(rod, [{ pick: 'grow', mode: 'add', at: [10, 0, 15], angle: 11 }])).toBeCloseTo(
      36 * 2 * 10 * Math.sin(Math.PI / 36) * 30,
      3,
    )
  })
  it('brush takes what comes within its radius of the path, and only that', () => {
    const path: [number, number, number][] = [
      [4, 10, 20],
      [8, 10, 20],
      [12, 10, 20],
      [16, 10, 20],
    ]
    const list = picked(cube, [{ pick: 'brush', mode: 'add', path, radius: 3 }])
    expect(list.length).toBeGreaterThan(20)
    for (const t of list) {
      const nearest = Math.min(
        ...[...corners(cube, t), middle(cube, t)].map((c) =>
          Math.min(...path.map((p) => Math.hypot(c[0] - p[0], c[1] - p[1], c[2] - p[2]))),
        ),
      )
      expect(nearest).toBeLessThanOrEqual(3)
    }
    // Every triangle whose middle lies under the brush is there.
    for (let t = 0; t < triangleCount(cube); t++)
      if (path.some((p) => Math.hypot(...middle(cube, t).map((v, a) => v - p[a])) < 2.9)) expect(list).toContain(t)
  })
  it('brush takes a facet larger than itself, wherever on it the stroke lies', () => {
    // 50 by 50 of two triangles, and its underside 20 below.
    const slab = box(50, 50, 20)
    const list = picked(slab, [
      {
        pick: 'brush',
        mode: 'add',
        path: [
          [22, 26, 20],
          [26, 30, 20],
        ],
        radius: 5,
      },
    ])
    expect(list).toHaveLength(2)
    expect(list.every((t) => [0, 1, 2].every((c) => slab.positions[3 * slab.triangles[3 * t + c] + 2] === 20))).toBe(
      true,
    )
    expect(() => picked(slab, [{ pick: 'brush', mode: 'add', path: [[25, 25, 30]], radius: 5 }])).toThrow()
  })
  it('a loop takes the front, or right through; a bent loop keeps its dent out', () => {
    const square: [number, number][] = [
      [-1, -1],
      [21, -1],
      [21, 10.01],
      [-1, 10.01],
    ]
    expect(area(cube, [fromAbove(square)])).toBeCloseTo(200, 6)
    // Right through: half of top and bottom, half of two walls and the whole of one.
    expect(area(cube, [fromAbove(square, true)])).toBeCloseTo(200 * 2 + 200 * 2 + 400, 6)
    const dented: [number, number][] = [
      [-1, -1],
      [21, -1],
      [21, 21],
      [10.01, 21],
      [10.01, 10.01],
      [-1, 10.01],
    ]
    expect(area(cube, [fromAbove(dented)])).toBeCloseTo(300, 6)
    // In perspective the same loop reaches further the further a face is from the eye.
    const eye: [number, number, number] = [10, 10, 40]
    const cone: Region = [
      {
        pick: 'loop',
        mode: 'add',
        eye,
        toward: [0, 0, -1],
        loop: [
          [5, 5, 30],
          [15, 5, 30],
          [15, 15, 30],
          [5, 15, 30],
        ],
        through: true,
      },
    ]
    const list = picked(cube, cone)
    expect(list.some((t) => middle(cube, t)[2] > 19.9 && Math.abs(middle(cube, t)[0] - 10) > 9)).toBe(true)
    expect(list.some((t) => middle(cube, t)[2] < 0.1 && Math.abs(middle(cube, t)[0] - 10) > 9)).toBe(true)
  })
  it('what hides behind another body part is not front', () => {
    const two = concatMeshes([cube, shifted(box(8, 8, 2, 4), 6, 6, 30)])
    const seen = picked(two, [
      fromAbove([
        [-1, -1],
        [21, -1],
        [21, 21],
        [-1, 21],
      ]),
    ])
    expect(
      seen.some((t) => {
        const m = middle(two, t)
        return Math.abs(m[2] - 20) < 1e-6 && m[0] > 6.5 && m[0] < 13.5 && m[1] > 6.5 && m[1] < 13.5
      }),
    ).toBe(false)
    expect(seen.some((t) => Math.abs(middle(two, t)[2] - 32) < 1e-6)).toBe(true)
  })
  it('whole piece, pieces by size, faults', () => {
    const many = concatMeshes([cube, shifted(box(2, 2, 2), 30, 0, 0), shifted(box(3, 3, 3), 40, 0, 0)])
    expect(picked(many, [{ pick: 'piece', mode: 'add', at: [31, 1, 2] }])).toHaveLength(12)
    expect(picked(many, [{ pick: 'small-pieces', mode: 'add', below: 0.02 }])).toHaveLength(12 + 0)
    expect(picked(many, [{ pick: 'small-pieces', mode: 'add', below: 0.05 }])).toHaveLength(24)
    const open = without(cube, (_x, _y, z) => z > 19.99)
    for (const t of picked(open, [{ pick: 'fault', mode: 'add', fault: 'rim' }]))
      expect(Math.max(...corners(open, t).map((p) => p[2]))).toBe(20)
    expect(picked(open, [{ pick: 'fault', mode: 'add', fault: 'rim' }])).toHaveLength(40)
    const crossed = concatMeshes([sphere(5, 3), shifted(sphere(5, 3), 4, 0, 0)])
    const x = picked(crossed, [{ pick: 'fault', mode: 'add', fault: 'crossing' }])
    // The two spheres meet in the circle x = 2.
    for (const t of x) expect(Math.abs(middle(crossed, t)[0] - 2)).toBeLessThan(1.5)
    expect(x.length).toBeGreaterThan(20)
    const folded = addFolds(sphere(20, 5), 2, 2.4, 1.9, 3)
    expect(picked(folded, [{ pick: 'fault', mode: 'add', fault: 'fold' }]).length).toBeGreaterThan(1)
    const bad: TriMesh = {
      positions: cube.positions,
      triangles: Uint32Array.from([...cube.triangles, 0, 0, 1, ...cube.triangles.slice(0, 3)]),
    }
    expect(picked(bad, [{ pick: 'fault', mode: 'add', fault: 'degenerate' }])).toEqual([triangleCount(cube)])
    expect(picked(bad, [{ pick: 'fault', mode: 'add', fault: 'duplicate' }])).toContain(triangleCount(cube) + 1)
  })
  it('add, take away, invert, rings out and in', () => {
    const top: Region[number] = { pick: 'grow', mode: 'add', at: [10, 10, 20], angle: 30 }
    expect(area(cube, [top, { pick: 'grow', mode: 'add', at: [20, 10, 10], angle: 30 }])).toBeCloseTo(800, 6)
    expect(
      area(cube, [
        top,
        {
          ...fromAbove([
            [-1, -1],
            [21, -1],
            [21, 10.01],
            [-1, 10.01],
          ]),
          mode: 'take',
        } as Region[number],
      ]),
    ).toBeCloseTo(200, 6)
    expect(area(cube, [top, { pick: 'invert' }])).toBeCloseTo(2000, 6)
    // One ring beyond the top: 2 mm of each wall (its squares), and where corners touch.
    expect(area(cube, [top, { pick: 'grow-ring' }])).toBeCloseTo(400 + 4 * 20 * 2, 0)
    expect(picked(cube, [top, { pick: 'grow-ring' }, { pick: 'shrink-ring' }])).toEqual(picked(cube, [top]))
    // A ring in leaves the squares that do not touch the edge.
    expect(area(cube, [top, { pick: 'shrink-ring' }])).toBeCloseTo(16 * 16, 0)
  })
})

describe('a region after the mesh has changed', () => {
  it('is found anew on other triangles: the same face, the same piece, the same loop', () => {
    const before = box(20, 20, 20, 4),
      after = refine(before, { edge: 1.3 })
    const region: Region = [
      { pick: 'grow', mode: 'add', at: [10, 10, 20], angle: 30 },
      {
        ...fromAbove([
          [-1, -1],
          [21, -1],
          [21, 10],
          [-1, 10],
        ]),
        mode: 'take',
      } as Region[number],
    ]
    expect(area(before, region)).toBeCloseTo(200, 6)
    expect(Math.abs(area(after, region) - 200)).toBeLessThan(15)
    const gone = without(before, (_x, _y, z) => z > 19.99)
    // The face is gone: the nearest place is now on a wall, so what is found is not nothing, and a loop that sees nothing says so.
    expect(() =>
      resolveRegion(gone, [
        fromAbove([
          [30, 30],
          [40, 30],
          [40, 40],
          [30, 40],
        ]),
      ]),
    ).toThrow(/not there any more/)
  })
  it('is refused when it is not one: a loop of two corners, a brush without radius, a fault unknown', () => {
    for (const bad of [
      {
        pick: 'loop',
        toward: [0, 0, 1],
        loop: [
          [0, 0, 0],
          [1, 0, 0],
        ],
      },
      { pick: 'brush', path: [[0, 0, 0]], radius: 0 },
      { pick: 'fault', fault: 'ugly' },
      { pick: 'grow', at: [0, 0, NaN], angle: 10 },
    ])
      expect(regionSchema.safeParse([bad]).success).toBe(false)
    expect(regionSchema.safeParse([{ pick: 'grow', at: [0, 0, 0], angle: 10 }]).data).toEqual([
      { pick: 'grow', mode: 'add', at: [0, 0, 0], angle: 10 },
    ])
  })
})
