/** Walls whose corners stand aslant, as they come of walls that a file keeps as splines: no two triangles lie in one plane. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { cleanSolidOf } from '@/core/clean/clean-solid'
import { random } from '@/core/math/random'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { recognise } from './recognise'

/**
 * A tube, or a rod where `inner` is 0: rings of corners at angles of their own below and above, joined by whichever triangle comes next.
 * Ends are cut from corner to corner, without one in the middle.
 */
function aslant(outer: number, inner: number, height: number, n: number): TriMesh {
  const chance = random(7)
  const positions: number[] = []
  const triangles: number[] = []
  const ring = (radius: number, z: number) => {
    const first = positions.length / 3
    const angles = Array.from({ length: n }, (_, i) => ((i + 0.8 * (chance.next() - 0.5)) * 2 * Math.PI) / n)
    for (const a of angles) positions.push(radius * Math.cos(a), radius * Math.sin(a), z)
    return { first, angles }
  }
  type Ring = ReturnType<typeof ring>
  /** Triangles between two rings, seen from the side on which the first runs to the right. */
  const between = (a: Ring, b: Ring) => {
    let [i, j] = [0, 0]
    const at = (r: Ring, k: number) => r.angles[k % n] + (k >= n ? 2 * Math.PI : 0)
    while (i < n || j < n) {
      const onA = j === n || (i < n && at(a, i + 1) < at(b, j + 1))
      const [p, q] = [a.first + (i % n), b.first + (j % n)]
      if (onA) triangles.push(p, a.first + (++i % n), q)
      else triangles.push(p, b.first + (++j % n), q)
    }
  }
  const [low, high] = [ring(outer, 0), ring(outer, height)]
  between(low, high)
  if (inner) {
    const [innerLow, innerHigh] = [ring(inner, 0), ring(inner, height)]
    between(innerHigh, innerLow)
    between(high, innerHigh)
    between(innerLow, low)
  } else
    for (let k = 1; k + 1 < n; k++)
      triangles.push(high.first, high.first + k, high.first + k + 1, low.first, low.first + k + 1, low.first + k)
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}

describe('walls whose corners stand aslant', () => {
  it.each([
    ['a long rod', aslant(5, 0, 200, 40), { cylinder: 1, plane: 2 }, Math.PI * 25 * 200],
    ['a plate-like ring', aslant(12, 5, 4, 44), { cylinder: 2, plane: 2 }, Math.PI * (144 - 25) * 4],
  ] as const)('%s: walls and ends, and the solid of them', async (_, mesh, kinds, volume) => {
    const found: Record<string, number> = {}
    for (const r of recognise(mesh).regions) found[r.shape?.kind ?? 'free'] = (found[r.shape?.kind ?? 'free'] ?? 0) + 1
    expect(found).toEqual(kinds)
    const { body, faceted } = await cleanSolidOf(
      mesh,
      'b',
      'n',
      { way: 'faces', draw: ['line'], regular: true, loose: [] },
      quiet,
    )
    expect(faceted).toBe(0)
    expect(body.facts).toMatchObject({
      valid: true,
      closed: true,
      faces: Object.values(kinds).reduce((a, b) => a + b, 0),
    })
    expect(Math.abs(body.facts.volume / volume - 1)).toBeLessThan(1e-5)
    // The facets themselves are off by a hundred times as much and more.
    expect(Math.abs(meshVolume(mesh) / volume - 1)).toBeGreaterThan(1e-3)
  })
})
