/** Blocks of regular quads: that they cover each once, and are the limit surface itself. */
import { describe, expect, it } from '@jest/globals'
import { distance, type Vec3 } from '@/core/math/vec'
import type { Cage } from '@/core/subdivision/subdivide'
import { blockAt, blocksOf, clamped, controlGrid, polesOf } from './blocks'
import { placeAt } from '@/core/mesh/tri-mesh'
import { limitFrame } from './corners'
import { cageBlock, cageCylinder, cageSheet, cageSphere } from './shapes'

const bent = (cage: Cage): Cage => ({
  ...cage,
  positions: cage.positions.map((v, i, p) => (i % 3 === 2 ? v + 0.02 * p[i - 2] * p[i - 1] : v)),
})
const cages: [string, Cage][] = [
  ['a soft block', bent(cageBlock([40, 30, 20], [5, 4, 3], false))],
  ['a block with sharp edges', cageBlock([40, 30, 20], [4, 3, 3], true)],
  ['a cylinder', bent(cageCylinder(10, 30, 12, 5))],
  ['a ball', cageSphere(10, 5)],
  ['a sheet', bent(cageSheet(40, 30, 7, 5))],
]

/** Limit of a corner of four quads: 16 of itself, 4 of each neighbour, 1 of each corner across, over 36 (Halstead, Kass & DeRose 1993). */
function limitOf(cage: Cage, v: number): Vec3 | null {
  const beside = new Set<number>()
  const across: number[] = []
  for (let q = 0; q < cage.quads.length; q += 4)
    for (let c = 0; c < 4; c++) {
      if (cage.quads[q + c] !== v) continue
      beside.add(cage.quads[q + ((c + 1) % 4)]).add(cage.quads[q + ((c + 3) % 4)])
      across.push(cage.quads[q + ((c + 2) % 4)])
    }
  if (across.length !== 4 || beside.size !== 4) return null
  const sum = (list: Iterable<number>, k: number) => [...list].reduce((s, u) => s + cage.positions[3 * u + k], 0)
  return [0, 1, 2].map(
    (k) => (16 * cage.positions[3 * v + k] + 4 * sum(beside, k) + sum(across, k)) / 36,
  ) as unknown as Vec3
}

describe.each(cages)('%s', (_, cage) => {
  const frame = limitFrame(cage)
  const { blocks, of } = blocksOf(frame)
  const faces = cage.quads.length / 4
  it('has each regular quad in one block, and no other', () => {
    const times = new Uint8Array(faces)
    blocks.forEach((b, i) => {
      expect(b.base).toHaveLength(b.m * b.n)
      for (const h of b.base) {
        times[h >> 2]++
        expect(of[h >> 2]).toBe(i)
      }
    })
    for (let f = 0; f < faces; f++) expect(times[f]).toBe([0, 1, 2, 3].every((c) => frame.regular[4 * f + c]) ? 1 : 0)
  })
  it('has few large ones, each of neighbours side by side', () => {
    const covered = of.filter((b) => b >= 0).length
    if (covered) expect(blocks.length).toBeLessThan(Math.max(7, covered / 3))
    for (const { base, m, n } of blocks)
      for (let j = 0; j < n; j++)
        for (let i = 0; i + 1 < m; i++) {
          const [a, b] = [base[i + m * j], base[i + 1 + m * j]].map(
            (h) => new Set(cage.quads.subarray(4 * (h >> 2), 4 * (h >> 2) + 4)),
          )
          expect([...a].filter((v) => b.has(v))).toHaveLength(2)
        }
  })
  it('runs through the limits of its corners', () => {
    const { sharp, topology } = frame
    const atSharp = new Set<number>()
    for (let h = 0; h < cage.quads.length; h++)
      if (sharp[h] || topology.twin[h] < 0) atSharp.add(cage.quads[h]).add(cage.quads[h % 4 === 3 ? h - 3 : h + 1])
    let seen = 0
    for (const block of blocks) {
      const grid = controlGrid(frame, block)
      for (let j = 0; j < block.n; j++)
        for (let i = 0; i < block.m; i++) {
          const v = cage.quads[block.base[i + block.m * j]]
          const limit = atSharp.has(v) ? null : limitOf(cage, v)
          if (!limit) continue
          expect(distance(blockAt(grid, block.m, block.n, i, j).at, limit)).toBeLessThan(1e-9)
          seen++
        }
    }
    if (blocks.some((b) => b.m > 1 && b.n > 1)) expect(seen).toBeGreaterThan(0)
  })
})

describe('control points of a block', () => {
  /** A clamped cubic with knots at 0, 1, 2, ... by de Boor's algorithm (de Boor 1978). */
  function deBoor(poles: readonly Vec3[], spans: number, t: number): Vec3 {
    const knots = [0, 0, 0, ...Array.from({ length: spans + 1 }, (_, i) => i), spans, spans, spans]
    const s = Math.min(spans - 1, Math.floor(t))
    let d = poles.slice(s, s + 4).map((p) => [...p])
    for (let r = 1; r <= 3; r++)
      d = d.slice(1).map((p, i) => {
        const [lo, hi] = [knots[s + i + r], knots[s + i + 4]]
        const a = (t - lo) / (hi - lo)
        return p.map((v, k) => (1 - a) * d[i][k] + a * v)
      })
    return d[0] as unknown as Vec3
  }
  it('with fourfold knots at the ends are the same surface', () => {
    const frame = limitFrame(bent(cageSheet(40, 30, 7, 5)))
    const [block] = blocksOf(frame).blocks
    const grid = controlGrid(frame, block)
    const { m, n } = block
    const poles = polesOf(grid, m, n)
    expect([poles.length, poles[0].length]).toEqual([m + 3, n + 3])
    for (const [s, t] of [
      [0, 0],
      [0.3, 0.7],
      [0.5, 0.21],
      [0.93, 0.999],
      [1, 1],
    ]) {
      const [u, v] = [s * m, t * n]
      const across = poles.map((row) => deBoor(row, n, v))
      expect(distance(deBoor(across, m, u), blockAt(grid, m, n, u, v).at)).toBeLessThan(1e-9)
    }
  })
  it('of a stretch are those of the whole there; places of a cage are its own', () => {
    const q: Vec3[] = Array.from({ length: 9 }, (_, i) => [i - 1, (i * i) % 5, i % 3])
    const whole = clamped(q, 0, 6)
    const part = clamped(q, 2, 4)
    for (const t of [2, 2.4, 3.7, 4]) expect(distance(deBoor(part, 2, t - 2), deBoor(whole, 6, t))).toBeLessThan(1e-9)
    expect(placeAt([1, 2, 3, 4, 5, 6], 1)).toEqual([4, 5, 6])
  })
})
