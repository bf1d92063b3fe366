/** Cages side by side in one. */
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import type { Cage } from '@/core/subdivision/subdivide'

export function sideBySide(cages: readonly Cage[]): Cage {
  const positions: number[] = []
  const quads: number[] = []
  const creases = new Map<number, number>()
  const corners = new Map<number, number>()
  for (const c of cages) {
    const from = positions.length / 3
    for (const x of c.positions) positions.push(x)
    for (const v of c.quads) quads.push(v + from)
    for (const [key, s] of c.creases) {
      const [a, b] = endsOfKey(key)
      creases.set(edgeKey(a + from, b + from), s)
    }
    for (const [v, s] of c.corners) corners.set(v + from, s)
  }
  return { positions: Float64Array.from(positions), quads: Uint32Array.from(quads), creases, corners }
}
