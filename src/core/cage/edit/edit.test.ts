import { describe, expect, it } from '@jest/globals'
import { cageOfNet } from '@/core/cage/cage-of-net'
import { limitSkin } from '@/core/kinds/cage'
import { edgeKey } from '@/core/mesh/edge-key'
import { meshVolume } from '@/core/mesh/measures'
import { Ground } from '@/core/net/relax-quads'
import { limitPlaces, type Cage } from '@/core/subdivision/subdivide'
import { quadBlock } from '@/testing/quad-shapes'
import { sphere } from '@/testing/shapes'
import { applyEdit, applyEdits } from './apply'
import { faceCount, meanEdge, pointCount, resolve, topologyOf } from './net'
import { allOf, edgeLoop, edgeRing, grown, pickedAs, shrunk, smoothPatch } from './select'
import type { CageEdit } from './schema'

const block = (n = 2): Cage => cageOfNet(quadBlock([20, 20, 20], [0, 0, 0], n), null)
/** A flat sheet of n by n quads of a size, in z = 0. */
function sheetCage(n: number, size = 10): Cage {
  const positions: number[] = []
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i * size, j * size, 0)
  const quads: number[] = []
  const at = (i: number, j: number) => j * (n + 1) + i
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) quads.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1))
  return {
    positions: Float64Array.from(positions),
    quads: Uint32Array.from(quads),
    creases: new Map(),
    corners: new Map(),
  }
}
const rims = (c: Cage) => topologyOf(c).twin.filter((t) => t < 0).length
/** Euler's number: points − edges + faces; 2 for a closed skin without handles. */
const euler = (c: Cage) => pointCount(c) - topologyOf(c).edges + faceCount(c)
const volume = (c: Cage) => {
  // Of the bilinear quads: the mean over both diagonals.
  let twelve = 0
  const p = (v: number) => [c.positions[3 * v], c.positions[3 * v + 1], c.positions[3 * v + 2]]
  for (let q = 0; q < c.quads.length; q += 4)
    for (let i = 0; i < 4; i++) {
      const [a, b, d] = [i, (i + 1) % 4, (i + 2) % 4].map((k) => p(c.quads[q + k]))
      twelve +=
        a[0] * (b[1] * d[2] - b[2] * d[1]) + a[1] * (b[2] * d[0] - b[0] * d[2]) + a[2] * (b[0] * d[1] - b[1] * d[0])
    }
  return twelve / 12
}
/** Area of a face seen from above, against the clock (the shoelace formula). */
const areaXY = ({ positions: p, quads }: Cage, f: number) =>
  [0, 1, 2, 3].reduce((sum, i) => {
    const [a, b] = [quads[4 * f + i], quads[4 * f + ((i + 1) % 4)]]
    return sum + (p[3 * a] * p[3 * b + 1] - p[3 * b] * p[3 * a + 1]) / 2
  }, 0)
const run = (c: Cage, ...edits: CageEdit[]) => applyEdits(c, edits, null)
const top = (n: number) => {
  const out: [number, number, number][] = []
  const h = 20 / n
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) out.push([h * (i + 0.5), h * (j + 0.5), 20])
  return out
}

describe('what is told by places', () => {
  it('is found anew on a moved cage, and named where it is gone', () => {
    const c = block()
    expect(resolve(c, { points: [[20.3, 19.8, 20]] }).points).toEqual(resolve(c, { points: [[20, 20, 20]] }).points)
    expect(() => resolve(c, { faces: [[60, 0, 0]] })).toThrow('There is no face of the cage near 60, 0, 0.')
    expect(() => run(c, { do: 'subdivide' }, { do: 'delete', faces: [[90, 0, 0]] })).toThrow(/^Edit 2 \(delete\): /)
  })
})

describe('points moved', () => {
  it('go as told, others stay; a soft reach takes neighbours along and not another skin close by', () => {
    const c = run(block(4), { do: 'move', points: [[10, 10, 20]], by: [0, 0, 5] })
    const was = block(4)
    const d = c.positions.map((x, i) => x - was.positions[i])
    expect(d.filter((x) => x !== 0)).toEqual(Float64Array.of(5))
    // Two sheets 1 mm apart: only the one that is pulled moves.
    const two: Cage = (() => {
      const a = sheetCage(4)
      const b = a.positions.map((x, i) => (i % 3 === 2 ? x + 1 : x))
      return {
        ...a,
        positions: Float64Array.from([...a.positions, ...b]),
        quads: Uint32Array.from([...a.quads, ...a.quads.map((v) => v + 25)]),
      }
    })()
    const pulled = run(two, { do: 'move', points: [[20, 20, 1]], by: [0, 0, 3], reach: 15 })
    const lower = pulled.positions.slice(0, 75)
    expect(lower).toEqual(two.positions.slice(0, 75))
    const upper = Array.from({ length: 25 }, (_, v) => pulled.positions[75 + 3 * v + 2] - 1)
    expect(upper[12]).toBe(3)
    // Smoothstep at a third of the way from the rim of the reach: t = 1/3.
    expect(upper[13]).toBeCloseTo(3 * (3 / 9 - 2 / 27), 12)
    expect(upper[14]).toBe(0)
  })
  it('turn, scale, flatten and straighten by the book', () => {
    const turned = run(block(), { do: 'turn', faces: top(2), at: [10, 10, 20], axis: [0, 0, 2], angle: 90 })
    expect(volume(block())).toBeCloseTo(8000, 6)
    // The corner at 20, 20 comes to 0, 20.
    const was = resolve(block(), { points: [[20, 20, 20]] }).points[0]
    expect([...turned.positions.slice(3 * was, 3 * was + 3)].map((x) => +x.toFixed(9))).toEqual([0, 20, 20])
    const scaled = run(block(1), { do: 'scale', faces: [[10, 10, 20]], at: [10, 10, 20], by: [0.5, 0.5, 1] })
    // A frustum: h/3 (A + B + sqrt(A B)).
    expect(volume(scaled)).toBeCloseTo((20 / 3) * (400 + 100 + 200), 6)
    const bent = run(sheetCage(4), { do: 'move', points: [[20, 20, 0]], by: [0, 0, 4] })
    const flat = run(bent, { do: 'flatten', points: allPlaces(bent), normal: [0, 0, 1] })
    for (let v = 0; v < 25; v++) expect(flat.positions[3 * v + 2]).toBeCloseTo(4 / 25, 9)
    const row = run(bent, {
      do: 'straighten',
      points: [0, 10, 20, 30, 40].map((x) => [x, 20, x === 20 ? 4 : 0]) as [number, number, number][],
    })
    const zs = [10, 11, 12, 13, 14].map((v) => row.positions[3 * v + 2])
    zs.forEach((z) => expect(z).toBeCloseTo(0.8, 9))
  })
  it('on both sides of a plane: mirrored, and held in the plane itself', () => {
    const c = cageOfNet(quadBlock([20, 20, 20], [-10, 0, 0], 2), null)
    const m = run(c, { do: 'move', points: [[10, 20, 20]], by: [3, 1, 2], symmetric: 'x', reach: 12 })
    const at = (x: number, y: number, z: number) => {
      const v = resolve(c, { points: [[x, y, z]] }).points[0]
      return [...m.positions.slice(3 * v, 3 * v + 3)].map((q, k) => +(q - c.positions[3 * v + k]).toFixed(9))
    }
    expect(at(10, 20, 20)).toEqual([3, 1, 2])
    expect(at(-10, 20, 20)).toEqual([-3, 1, 2])
    const [x, y, z] = at(0, 20, 20)
    expect(x).toBe(0)
    expect(y).toBeGreaterThan(0)
    expect(z).toBeCloseTo(2 * y, 9)
  })
})
const allPlaces = (c: Cage) =>
  Array.from({ length: pointCount(c) }, (_, v) => [...c.positions.slice(3 * v, 3 * v + 3)] as [number, number, number])

describe('what grows and what is cut', () => {
  it('faces are extruded on walls: volume, Euler’s formula, creases that go with them', () => {
    const c = run(block(1), { do: 'extrude', faces: [[10, 10, 20]], distance: 7 })
    expect(volume(c)).toBeCloseTo(20 * 20 * 27, 6)
    expect([faceCount(c), euler(c), rims(c)]).toEqual([10, 2, 0])
    const creased = cageOfNet(quadBlock([20, 20, 20], [0, 0, 0], 1), 30)
    const up = run(creased, { do: 'extrude', faces: [[10, 10, 20]], by: [0, 0, 7] })
    expect(up.creases.size).toBe(12)
    const high = [...up.creases.keys()].filter((k) => up.positions[3 * (k % 67108864) + 2] === 27)
    expect(high).toHaveLength(4)
    // Both ends at once when symmetric.
    const centred = cageOfNet(quadBlock([20, 20, 20], [-10, -10, -10], 1), null)
    const both = run(centred, { do: 'extrude', faces: [[0, 0, 10]], distance: 5, symmetric: 'z' })
    expect(volume(both)).toBeCloseTo(20 * 20 * 30, 6)
  })
  it('rim edges are drawn out in the plane of their faces; inner ones are refused', () => {
    const c = run(sheetCage(2), {
      do: 'extrude',
      edges: [
        [20, 5, 0],
        [20, 15, 0],
      ],
      distance: 4,
    })
    expect(faceCount(c)).toBe(6)
    expect(Math.max(...c.positions)).toBeCloseTo(24, 9)
    expect(() => run(sheetCage(2), { do: 'extrude', edges: [[10, 5, 0]], distance: 4 })).toThrow(/at a rim/)
  })
  it('both sides and mirroring at a plane off the origin are those at 0, moved along', () => {
    const centred = cageOfNet(quadBlock([20, 20, 20], [-10, -10, -10], 2), null)
    const shift = 37.5
    const along = (c: Cage): Cage => ({ ...c, positions: c.positions.map((x, i) => (i % 3 ? x : x + shift)) })
    const there = (x: number, y: number, z: number, off: number): [number, number, number] => [x + off, y, z]
    const edits = (off: number): CageEdit[] => [
      { do: 'move', points: [there(-10, 10, 10, off)], by: [-3, 1, 2], symmetric: 'x', symmetricAt: off, reach: 12 },
      { do: 'extrude', faces: [there(-10, -5, -5, off)], distance: 5, symmetric: 'x', symmetricAt: off },
      { do: 'mirror', axis: 'x', keep: '-', at: off },
    ]
    const [here, moved] = [run(centred, ...edits(0)), run(along(centred), ...edits(shift))]
    expect(moved.quads).toEqual(here.quads)
    const want = along(here).positions
    moved.positions.forEach((x, i) => expect(x).toBeCloseTo(want[i], 9))
    expect(euler(moved)).toBe(2)
    expect(() => run(centred, { do: 'mirror', axis: 'x', keep: '+', at: 12.5 })).toThrow(/x is above 12.5/)
  })
  it('a loop ends between two edges of one ring: all quads, the skin where it was, no loop elsewhere', () => {
    // Each end gives three faces more, each face between two; one face alone four.
    for (const [from, to, more] of [
      [0, 60, 3 + 4 * 2 + 3],
      [40, 10, 3 + 2 + 3],
      [20, 30, 4],
    ] as const) {
      const before = sheetCage(6)
      const edges = [from, to].map((x): [number, number, number] => [x, 25, 0])
      const c = run(before, { do: 'loop', edges, share: 0.5, between: true })
      expect(faceCount(c)).toBe(faceCount(before) + more)
      expect(euler(c)).toBe(euler(before))
      expect(rims(c)).toBe(rims(before))
      // Areas of all faces are above zero and make up the sheet.
      const areas = Array.from({ length: faceCount(c) }, (_, f) => areaXY(c, f))
      expect(Math.min(...areas)).toBeGreaterThan(5)
      expect(areas.reduce((s, x) => s + x, 0)).toBeCloseTo(3600, 8)
    }
    const round = block(4)
    const c = run(round, {
      do: 'loop',
      edges: [
        [0, 0, 7.5],
        [10, 0, 7.5],
      ],
      share: 0.3,
      between: true,
    })
    expect(faceCount(c)).toBe(faceCount(round) + 6)
    expect([euler(c), rims(c)]).toEqual([2, 0])
    expect(volume(c)).toBeCloseTo(8000, 8)
    expect(() => run(round, { do: 'loop', edges: [[0, 0, 7.5]], share: 0.5, between: true })).toThrow(/pick just two/)
    expect(() =>
      run(round, {
        do: 'loop',
        edges: [
          [0, 0, 7.5],
          [7.5, 0, 0],
        ],
        share: 0.5,
        between: true,
      }),
    ).toThrow(/not crossed by one ring/)
  })
  it('a loop runs round a block, at a share from the nearer point; creases are split with their edges', () => {
    const c = run(block(1), { do: 'loop', edges: [[0, 0, 10]], share: 0.25 })
    expect([faceCount(c), euler(c)]).toEqual([10, 2])
    const heights = new Set(Array.from({ length: pointCount(c) }, (_, v) => c.positions[3 * v + 2]))
    expect(heights.size).toBe(3)
    expect([5, 15]).toContain([...heights].find((z) => z > 0 && z < 20))
    const creased = cageOfNet(quadBlock([20, 20, 20], [0, 0, 0], 1), 30)
    expect(run(creased, { do: 'loop', edges: [[0, 0, 10]], share: 0.5 }).creases.size).toBe(16)
    // Slid up and down, and dissolved: the block again.
    const loop = edgeLoop(c, edgeKey(8, 9)).length
    expect(loop).toBeGreaterThan(0)
    const z = [...heights].find((h) => h > 0 && h < 20)!
    const ring = (
      [
        [10, 0],
        [20, 10],
        [10, 20],
        [0, 10],
      ] as const
    ).map(([x, y]) => [x, y, z] as [number, number, number])
    const slid = run(c, { do: 'slide', edges: ring, share: 0.5 })
    const level = Array.from({ length: pointCount(c) }, (_, v) => slid.positions[3 * v + 2]).find(
      (h) => h > 0 && h < 20,
    )!
    expect([z / 2, (z + 20) / 2].some((w) => Math.abs(w - level) < 1e-9)).toBe(true)
    const back = run(c, { do: 'dissolve', edges: ring })
    expect([faceCount(back), pointCount(back), volume(back)]).toEqual([6, 8, 8000])
    expect(() => run(block(), { do: 'dissolve', edges: [[5, 10, 20]] })).toThrow(/face of \d corners/)
  })
  it('two caps bridged make a bore: genus 1, and the volume that is left', () => {
    const c = run(block(3), {
      do: 'bridge',
      faces: [
        [10, 10, 20],
        [10, 10, 0],
      ],
      rows: 2,
    })
    expect([euler(c), rims(c)]).toEqual([0, 0])
    expect(volume(c)).toBeCloseTo(8000 - (20 / 3) ** 2 * 20, 4)
    expect(() => run(block(3), { do: 'bridge', faces: [[10, 10, 20]], rows: 1 })).toThrow(/1 group/)
  })
  it('rims of two tubes bridged by an edge of each', () => {
    const open = run(block(2), {
      do: 'delete',
      faces: [...top(2), ...top(2).map(([x, y]) => [x, y, 0] as [number, number, number])],
    })
    const two: Cage = {
      ...open,
      positions: Float64Array.from([...open.positions, ...open.positions.map((x, i) => (i % 3 === 2 ? x + 30 : x))]),
      quads: Uint32Array.from([...open.quads, ...open.quads.map((v) => v + pointCount(open))]),
    }
    const joined = run(two, {
      do: 'bridge',
      edges: [
        [5, 0, 20],
        [5, 0, 30],
      ],
      rows: 1,
    })
    expect(rims(joined)).toBe(16)
    expect(faceCount(joined)).toBe(40)
    const closed = run(joined, {
      do: 'fill',
      edges: [
        [5, 0, 0],
        [5, 0, 50],
      ],
    })
    expect([rims(closed), euler(closed), volume(closed)]).toEqual([0, 2, 20 * 20 * 50])
  })
  it('a hole of an odd number of edges is told, and one of 12 becomes 3 by 3', () => {
    const hole = run(sheetCage(5), {
      do: 'delete',
      points: [
        [20, 20, 0],
        [30, 20, 0],
        [20, 30, 0],
        [30, 30, 0],
      ],
    })
    expect(faceCount(hole)).toBe(16)
    const full = run(hole, {
      do: 'fill',
      edges: [[20, 10, 0].map((x, i) => (i === 0 ? 15 : x)) as [number, number, number]],
    })
    expect(faceCount(full)).toBe(25)
    // The middle points come back where they were.
    for (const [x, y] of [
      [20, 20],
      [30, 30],
    ])
      expect(() => resolve(full, { points: [[x, y, 0]] })).not.toThrow()
    const at = resolve(full, { points: [[20, 20, 0]] }).points[0]
    expect(full.positions[3 * at]).toBeCloseTo(20, 9)
  })
  it('opposite corners of a quad merge, neighbours are refused for their triangles, a whole ring closes up', () => {
    const c = run(sheetCage(3), {
      do: 'merge',
      points: [
        [10, 10, 0],
        [20, 20, 0],
      ],
      at: 'middle',
    })
    expect(faceCount(c)).toBe(8)
    expect(() =>
      run(sheetCage(3), {
        do: 'merge',
        points: [
          [10, 10, 0],
          [20, 10, 0],
        ],
        at: 'first',
      }),
    ).toThrow(/2 triangles/)
    const ring = [0, 10, 20, 30].map((y) => [15, y, 0] as [number, number, number])
    const closed = run(sheetCage(3), { do: 'merge', edges: ring, at: 'middle' })
    expect(faceCount(closed)).toBe(6)
  })
  it('split along a line and welded again', () => {
    const line = [5, 15, 25].map((x) => [x, 10, 0] as [number, number, number])
    const apart = run(sheetCage(3), { do: 'split', edges: line })
    expect(pointCount(apart)).toBe(20)
    expect(rims(apart)).toBe(18)
    const again = run(apart, { do: 'weld', within: 0.01 })
    expect([pointCount(again), rims(again)]).toEqual([16, 12])
    expect(() => run(sheetCage(3), { do: 'weld', within: 0.01 })).toThrow(/No points/)
    expect(() => run(sheetCage(3), { do: 'split', edges: [[15, 10, 0]] })).toThrow(/do not part/)
  })
  it('an open sheet thickened is closed, of its area times its thickness', () => {
    for (const distance of [2, -2]) {
      const c = run(sheetCage(3), { do: 'thicken', distance })
      expect([rims(c), euler(c)]).toEqual([0, 2])
      expect(volume(c)).toBeCloseTo(900 * 2, 6)
    }
  })
  it('one side kept and mirrored: welded in the plane', () => {
    const c = cageOfNet(quadBlock([20, 20, 20], [-10, 0, 0], 2), null)
    const pulled = run(c, { do: 'move', points: [[10, 20, 20]], by: [4, 0, 0] })
    const m = run(pulled, { do: 'mirror', axis: 'x', keep: '+' })
    expect([euler(m), rims(m), faceCount(m)]).toEqual([2, 0, 24])
    expect(volume(m)).toBeCloseTo(8000 + 2 * (volume(pulled) - 8000), 6)
    expect(() => run(c, { do: 'move', faces: c0(c), by: [50, 0, 0] }, { do: 'mirror', axis: 'x', keep: '-' })).toThrow(
      /no face where x is below 0/,
    )
  })
  it('a half with its open rim at the plane is mirrored whole', () => {
    const half = run(sheetCage(2), { do: 'mirror', axis: 'x', keep: '+' })
    expect([faceCount(half), pointCount(half), rims(half)]).toEqual([8, 15, 12])
  })
  it('subdividing leaves the smooth surface where it was', () => {
    const c = block()
    const fine = run(c, { do: 'subdivide' })
    expect(meshVolume(limitSkin(fine).mesh)).toBeCloseTo(meshVolume(limitSkin(c).mesh), -1)
    const own = limitPlaces(c)
    const finer = limitPlaces(fine)
    for (let i = 0; i < own.length; i++) expect(finer[i]).toBeCloseTo(own[i], 9)
  })
})
const c0 = (c: Cage) =>
  Array.from(
    { length: faceCount(c) },
    (_, f) =>
      [0, 1, 2].map((k) => [0, 1, 2, 3].reduce((s, i) => s + c.positions[3 * c.quads[4 * f + i] + k] / 4, 0)) as [
        number,
        number,
        number,
      ],
  )

describe('faces drawn', () => {
  it('join on to the rim they are drawn at, facing the same way, whichever way round they are told', () => {
    for (const turned of [false, true]) {
      const at: [number, number, number][] = [
        [20.1, 0, 0],
        [30, 0, 1],
        [30, 10, 1],
        [20, 10.2, 0],
      ]
      const c = run(sheetCage(2), { do: 'face', at: turned ? at.reverse() : at })
      expect([faceCount(c), pointCount(c), rims(c)]).toEqual([5, 11, 10])
    }
    const apart = run(sheetCage(2), {
      do: 'face',
      at: [
        [50, 0, 0],
        [60, 0, 0],
        [60, 10, 0],
        [50, 10, 0],
      ],
    })
    expect([faceCount(apart), pointCount(apart)]).toEqual([5, 13])
    expect(() =>
      run(sheetCage(2), {
        do: 'face',
        at: [
          [20, 0, 0],
          [20, 0.1, 0],
          [30, 9, 0],
          [30, 0, 0],
        ],
      }),
    ).toThrow(/fall together/)
  })
})

describe('sharpness', () => {
  it('edges of the top for ever: the limit surface meets them; taken away again', () => {
    const rim = (
      [
        [5, 0],
        [15, 0],
        [5, 20],
        [15, 20],
        [0, 5],
        [0, 15],
        [20, 5],
        [20, 15],
      ] as const
    ).map(([x, y]) => [x, y, 20] as [number, number, number])
    const c = run(block(), { do: 'sharpen', edges: rim, sharpness: 'always' })
    expect(c.creases.size).toBe(8)
    const z = limitPlaces(c)
    const v = resolve(c, { points: [[10, 0, 20]] }).points[0]
    expect(z[3 * v + 2]).toBeCloseTo(20, 9)
    expect(run(c, { do: 'sharpen', faces: top(2), sharpness: 0 }).creases.size).toBe(0)
    const corner = run(block(), { do: 'sharpen', points: [[20, 20, 20]], sharpness: 'always' })
    const w = resolve(corner, { points: [[20, 20, 20]] }).points[0]
    expect([...limitPlaces(corner).slice(3 * w, 3 * w + 3)]).toEqual([20, 20, 20])
  })
})

describe('the scan', () => {
  const scan = new Ground(sphere(12, 5))
  const centred = cageOfNet(quadBlock([16, 16, 16], [-8, -8, -8], 2), null)
  const radii = (c: Cage) => {
    const p = limitPlaces(c)
    return Array.from({ length: p.length / 3 }, (_, v) => Math.hypot(p[3 * v], p[3 * v + 1], p[3 * v + 2]))
  }
  it('all points snapped: their places on the surface lie on the sphere; re-fit holds what is picked', () => {
    const c = applyEdit(centred, { do: 'snap' }, scan)
    // The facets of the sphere lie up to 1 % inside.
    for (const r of radii(c)) expect(Math.abs(r - 12)).toBeLessThan(0.1)
    const fitted = applyEdit(c, { do: 're-fit', points: [[8, 8, 8]] }, scan)
    const held = resolve(c, { points: [[...c.positions.slice(0, 3)] as [number, number, number]] }).points
    expect(held).toHaveLength(1)
    const far = limitSkin(fitted).mesh.positions
    let rms = 0
    for (let o = 0; o < far.length; o += 3) rms += (Math.hypot(far[o], far[o + 1], far[o + 2]) - 12) ** 2
    expect(Math.sqrt((3 * rms) / far.length)).toBeLessThan(0.15)
    expect(() => run(centred, { do: 'snap' })).toThrow(/No scan is chosen/)
  })
  it('relaxing evens a pulled sheet out within its plane', () => {
    const c = run(sheetCage(4), { do: 'move', points: [[20, 20, 0]], by: [6, 3, 0] })
    const r = run(c, { do: 'relax', times: 100 })
    const v = 12
    expect(r.positions[3 * v]).toBeCloseTo(20, 3)
    expect(r.positions[3 * v + 2]).toBe(0)
  })
})

describe('what goes together', () => {
  it('loops, rings, patches, rings more and less', () => {
    const c = sheetCage(4)
    expect(edgeLoop(c, edgeKey(12, 13))).toHaveLength(4)
    expect(edgeRing(c, edgeKey(12, 13))).toHaveLength(5)
    expect(edgeLoop(c, edgeKey(0, 1))).toHaveLength(16)
    expect(smoothPatch(block(3), 0, 30)).toHaveLength(9)
    const one = { points: [12], edges: [], faces: [] }
    const nine = grown(c, one, 'points')
    expect(nine.points).toHaveLength(9)
    expect(shrunk(c, nine, 'points').points).toEqual([12])
    expect(pickedAs(c, nine, 'faces').faces).toHaveLength(4)
    expect(allOf(c, 'edges').edges).toHaveLength(40)
    expect(meanEdge(c)).toBeCloseTo(10, 9)
  })
})
