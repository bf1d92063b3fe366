/** Faces of no shape: a block with a waved top, whose volume a double integral tells; charts that each face one way. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { buildTopology, triangleOf } from '@/core/mesh/topology'
import { sphere } from '@/testing/shapes'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { chartsOf } from './charts'
import { cleanSolidOf } from './clean-solid'
import { itLong } from '@/testing/long'

const [across, along, n] = [40, 30, 32]
/** Top of the block, mm; it keeps its mean of 10 where whole waves go in. */
const top = (x: number, y: number) =>
  10 + 1.5 * Math.sin((2 * Math.PI * x) / across) * Math.sin((2 * Math.PI * y) / along)

/** Five flat sides and a waved one, its corners on the wave. */
function waved(): TriMesh {
  const positions: number[] = []
  const triangles: number[] = []
  const at = (i: number, j: number) => i * (n + 1) + j
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) {
      const [x, y] = [(across * i) / n, (along * j) / n]
      positions.push(x, y, top(x, y))
    }
  const rim = [
    ...Array.from({ length: n }, (_, i) => at(i, 0)),
    ...Array.from({ length: n }, (_, j) => at(n, j)),
    ...Array.from({ length: n }, (_, i) => at(n - i, n)),
    ...Array.from({ length: n }, (_, j) => at(0, n - j)),
  ]
  const base = positions.length / 3
  for (const v of rim) positions.push(positions[3 * v], positions[3 * v + 1], 0)
  positions.push(across / 2, along / 2, 0)
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++)
      triangles.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1))
  rim.forEach((v, k) => {
    const next = (k + 1) % rim.length
    triangles.push(v, base + k, base + next, v, base + next, rim[next], base + k, base + rim.length, base + next)
  })
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}
const choice = { way: 'faces' as const, draw: ['line' as const], regular: true, loose: [] }

describe('faces of no shape', () => {
  it('a waved top is one fitted face between five planes; no shape is taken for one that is none', async () => {
    const mesh = waved()
    const made = await cleanSolidOf(mesh, 'block', 'clean', { ...choice, leftovers: 'fitted' }, quiet)
    expect(made.body.facts).toMatchObject({ valid: true, closed: true, faces: 6 })
    expect(made.body.facts.faceKinds).toMatchObject({ plane: 5, bspline: 1, cylinder: 0, sphere: 0 })
    expect(made.faceted).toBe(0)
    // Whole waves: the volume is that of the block. The facets' own error is about forty times as large.
    expect(Math.abs(made.body.facts.volume / (across * along * 10) - 1)).toBeLessThan(5e-5)
    const face = made.table.find((f) => f.shape === 'spline')!
    expect(face.corners).toBe((n + 1) ** 2)
    expect(face.max).toBeLessThan(0.01)
  })
  itLong('or stays as it is', async () => {
    const made = await cleanSolidOf(waved(), 'block', 'clean', { ...choice, leftovers: 'facets' }, quiet)
    expect(made.body.facts.faceKinds).toMatchObject({ bspline: 0 })
    expect(made.faceted).toBe(2 * n * n)
    expect(made.body.facts.volume).toBeCloseTo(meshVolume(waved()), 3)
  })
})

describe('charts', () => {
  it('a whole ball falls into pieces that each face one way, and nothing is left over', () => {
    const ball = sphere(10, 3)
    const of = chartsOf(ball, buildTopology(ball), () => false)
    const pieces = new Map<number, number[]>()
    of.forEach((c, t) => pieces.set(c, [...(pieces.get(c) ?? []), t]))
    expect(pieces.has(-1)).toBe(false)
    expect(pieces.size).toBeGreaterThan(3)
    expect(pieces.size).toBeLessThan(20)
    const normal = (t: number) => vertex(ball, ball.triangles[3 * t])
    for (const list of pieces.values()) {
      const sum = list.reduce((s, t) => normal(t).map((v, k) => v + s[k]), [0, 0, 0] as number[])
      const l = Math.hypot(...sum)
      for (const t of list) expect(normal(t).reduce((s, v, k) => s + (v * sum[k]) / l, 0)).toBeGreaterThan(0)
    }
  })
  it('their borders run without single teeth', () => {
    const ball = sphere(10, 4)
    const topology = buildTopology(ball)
    const of = chartsOf(ball, topology, () => false)
    let teeth = 0
    for (let t = 0; t < triangleCount(ball); t++) {
      const beside = [0, 1, 2].map((c) => of[triangleOf(topology.twin[3 * t + c])])
      if (beside.some((c, i) => c !== of[t] && beside.indexOf(c) !== i)) teeth++
    }
    expect(teeth).toBeLessThan(triangleCount(ball) / 100)
  })
  it('what has a shape, and what is too little, is in none', () => {
    const ball = sphere(10, 2)
    const of = chartsOf(ball, buildTopology(ball), (t) => t % 2 === 0)
    for (let t = 0; t < triangleCount(ball); t += 2) expect(of[t]).toBe(-1)
  })
})
