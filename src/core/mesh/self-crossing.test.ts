import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { box, shaken, shifted, sphere } from '@/testing/shapes'
import { crossingsFrom, findSelfCrossings, trianglesCross } from './self-crossing'
import { concatMeshes, triangleCount, type TriMesh } from './tri-mesh'

const pairsOf = (list: Uint32Array) => {
  const out: string[] = []
  for (let i = 0; i < list.length; i += 2)
    out.push(list[i] < list[i + 1] ? `${list[i]} ${list[i + 1]}` : `${list[i + 1]} ${list[i]}`)
  return out.sort()
}

/** Every pair tried with the exact test alone: what the search has to find. */
function byTrying(mesh: TriMesh, contact: number): string[] {
  const out: string[] = []
  for (let s = 0; s < triangleCount(mesh); s++)
    for (let t = s + 1; t < triangleCount(mesh); t++) if (trianglesCross(mesh, s, t, contact)) out.push(`${s} ${t}`)
  return out.sort()
}

/** Triangles at random in a cube, some of them sharing a corner. */
function soup(seed: number, n: number): TriMesh {
  const rng = random(seed)
  const positions = Float32Array.from({ length: 9 * n }, () => Math.fround(rng.next()))
  const triangles = Uint32Array.from({ length: 3 * n }, (_, i) => i)
  for (let t = 1; t < n; t++) if (rng.next() < 0.4) triangles[3 * t] = 3 * Math.floor(rng.next() * t)
  return { positions, triangles }
}

describe('the search for self-crossings', () => {
  it('finds what trying every pair finds, on random triangles and on flat grids', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const m = soup(seed, 60)
      const found = pairsOf(findSelfCrossings(m))
      expect(found).toEqual(byTrying(m, 2e-7 * Math.sqrt(3)))
      expect(found.length).toBeGreaterThan(20)
    }
    // Coordinates on a coarse lattice: coplanar, touching and degenerate pairs abound.
    for (let seed = 1; seed <= 12; seed++) {
      const m = soup(seed, 60)
      const snapped = { positions: m.positions.map((v) => Math.round(3 * v)), triangles: m.triangles }
      expect(pairsOf(findSelfCrossings(snapped))).toEqual(byTrying(snapped, 2e-7 * Math.hypot(3, 3, 3)))
    }
  })
  it('needles and slivers far from the origin are told by exact signs', () => {
    const rng = random(4)
    const m = soup(3, 60)
    const needles = {
      positions: m.positions.map((v, i) => (i % 9 >= 3 ? v : 1000 + v) + (i % 3 === 0 ? 4096 : 0) + 1e-3 * rng.next()),
      triangles: m.triangles,
    }
    const size = [0, 1, 2].map((a) => {
      const c = Array.from(needles.positions).filter((_, i) => i % 3 === a)
      return Math.max(...c) - Math.min(...c)
    })
    expect(pairsOf(findSelfCrossings(needles))).toEqual(byTrying(needles, 2e-7 * Math.hypot(...size)))
  })
  it('those from a number on are the ones of the whole that touch them', () => {
    const m = concatMeshes([sphere(10, 3), shifted(sphere(10, 3), 7, 2, 1), shifted(box(12, 12, 12, 4), -6, -6, -6)])
    const first = triangleCount(sphere(10, 3)) * 2
    const all = findSelfCrossings(m)
    const want = pairsOf(all).filter((k) => Number(k.split(' ')[1]) >= first)
    expect(want.length).toBeGreaterThan(50)
    expect(pairsOf(crossingsFrom(m, first))).toEqual(want)
    expect(pairsOf(crossingsFrom(m, 0))).toEqual(pairsOf(all))
  })
  it('a sound skin has none, and contact is none', () => {
    expect(findSelfCrossings(shaken(sphere(10, 4), 0.05))).toHaveLength(0)
    expect(findSelfCrossings(concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 3), 10, 10, 0)]))).toHaveLength(
      0,
    )
    // Face on face is more than contact: the squares of one lie on those of the other.
    expect(
      findSelfCrossings(concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 3), 10, 0, 0)])).length,
    ).toBeGreaterThanOrEqual(2 * 9)
  })
})
