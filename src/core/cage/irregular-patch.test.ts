/** Patches of degree 5: that they find the surface their samples are of, keep their borders, and lean as they are told. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { cross, distance, dot, normalize, type Vec3 } from '@/core/math/vec'
import {
  bernstein,
  cubicAlong,
  degree,
  irregularPatch,
  patchAt,
  raised,
  type Border,
  type Sample,
} from './irregular-patch'

const side = degree + 1
/** A bent patch over a square of 5 mm, its control points stirred. */
function truth(): Vec3[] {
  const { next } = random(7)
  return Array.from({ length: side * side }, (_, q): Vec3 => {
    const [i, j] = [q % side, Math.floor(q / side)]
    return [i + 0.3 * (next() - 0.5), j + 0.3 * (next() - 0.5), 0.1 * i * j + 0.4 * (next() - 0.5)]
  })
}
const bordersOf = (grid: readonly Vec3[]) => {
  const along = (at: (i: number) => number) => Array.from({ length: side }, (_, i) => grid[at(i)])
  return [
    along((i) => i),
    along((i) => degree + side * i),
    along((i) => degree - i + side * degree),
    along((i) => side * (degree - i)),
  ]
}
const placesOn = (s: number, t: number): [number, number] =>
  (
    [
      [t, 0],
      [1, t],
      [1 - t, 1],
      [0, 1 - t],
    ] as [number, number][]
  )[s]
const samplesOf = (grid: readonly Vec3[], n = 9): Sample[] =>
  Array.from({ length: n * n }, (_, q) => {
    const [u, v] = [((q % n) + 0.5) / n, (Math.floor(q / n) + 0.5) / n]
    return { u, v, at: patchAt(grid, u, v).at }
  })

describe('a patch of degree 5', () => {
  it('is the surface that its borders, normals and samples are of', () => {
    const grid = truth()
    const borders = bordersOf(grid).map((curve, s): Border => ({
      curve,
      normal: (t) => {
        const { du, dv } = patchAt(grid, ...placesOn(s, t))
        return normalize(cross(du, dv))
      },
    }))
    const made = irregularPatch(borders, samplesOf(grid))
    grid.forEach((p, q) => expect(distance(made[q], p)).toBeLessThan(1e-3))
    // Its weak hold on what nothing tells is all that it is off by.
    for (const [u, v] of [
      [0.13, 0.77],
      [0.5, 0.5],
      [0.91, 0.08],
    ])
      expect(distance(patchAt(made, u, v).at, patchAt(grid, u, v).at)).toBeLessThan(1e-4)
  })
  it('keeps its borders and leans as told where the samples lie elsewhere', () => {
    const grid = truth()
    const told: Vec3 = normalize([0.2, -0.1, 1])
    const curves = bordersOf(grid)
    // The lower border and the ways that leave its ends lie in the plane that the normals tell, so that it can be done.
    const laid = (p: Vec3): Vec3 => [p[0], p[1], -(told[0] * p[0] + told[1] * p[1]) / told[2]]
    const flat = curves[0].map(laid)
    curves[1] = [flat[degree], laid(curves[1][1]), ...curves[1].slice(2)]
    curves[3] = [...curves[3].slice(0, -2), laid(curves[3][degree - 1]), flat[0]]
    const borders: Border[] = [
      { curve: flat, normal: () => told },
      ...curves.slice(1).map((curve) => ({ curve, normal: null })),
    ]
    const away = samplesOf(grid).map((s) => ({ ...s, at: [s.at[0], s.at[1], s.at[2] + 0.2] as Vec3 }))
    const made = irregularPatch(borders, away)
    borders.forEach(({ curve }, s) =>
      [0, 0.25, 0.6, 1].forEach((t) => {
        const on = [0, 1, 2].map((k) => bernstein(t).reduce((sum, w, i) => sum + w * curve[i][k], 0)) as unknown as Vec3
        expect(distance(patchAt(made, ...placesOn(s, t)).at, on)).toBeLessThan(1e-9)
      }),
    )
    for (const t of [0.2, 0.5, 0.8]) {
      const { du, dv } = patchAt(made, t, 0)
      expect(Math.abs(dot(normalize(cross(du, dv)), told))).toBeGreaterThan(Math.cos(Math.PI / 180))
    }
  })
  it('without samples or normals is the surface between its borders (Coons 1967)', () => {
    const at = (u: number, v: number): Vec3 => [5 * u, 5 * v, u * v]
    const curve = (s: number) => raised([0, 1 / 3, 2 / 3, 1].map((t) => at(...placesOn(s, t))))
    const made = irregularPatch(
      [0, 1, 2, 3].map((s) => ({ curve: curve(s), normal: null })),
      [],
    )
    for (const [u, v] of [
      [0.2, 0.3],
      [0.7, 0.9],
      [0.5, 0.5],
    ])
      expect(distance(patchAt(made, u, v).at, at(u, v))).toBeLessThan(1e-6)
  })
  it('derivatives are those of its places', () => {
    const grid = truth()
    const [u, v, h] = [0.37, 0.61, 1e-5]
    const { du, dv } = patchAt(grid, u, v)
    const slope = (a: Vec3, b: Vec3): Vec3 => [0, 1, 2].map((k) => (b[k] - a[k]) / (2 * h)) as unknown as Vec3
    expect(distance(du, slope(patchAt(grid, u - h, v).at, patchAt(grid, u + h, v).at))).toBeLessThan(1e-6)
    expect(distance(dv, slope(patchAt(grid, u, v - h).at, patchAt(grid, u, v + h).at))).toBeLessThan(1e-6)
  })
})

describe('a cubic along places', () => {
  const poles: Vec3[] = [
    [0, 0, 0],
    [3, 1, 0],
    [5, 4, 1],
    [9, 4, 2],
  ]
  const on = (c: readonly Vec3[], t: number) =>
    [0, 1, 2].map(
      (k) => (1 - t) ** 3 * c[0][k] + 3 * t * (1 - t) ** 2 * c[1][k] + 3 * t * t * (1 - t) * c[2][k] + t ** 3 * c[3][k],
    ) as unknown as Vec3
  const samples = Array.from({ length: 7 }, (_, i) => ({ t: (i + 1) / 8, at: on(poles, (i + 1) / 8) }))
  const ways = [0, 1].map((e) => ({
    way: [0, 1, 2].map((k) => 3 * (e ? poles[2][k] - poles[3][k] : poles[1][k] - poles[0][k])) as unknown as Vec3,
    exact: true,
  }))
  it('is found, with its ways told exactly, by direction alone, or not at all', () => {
    const loosely = ways.map((w) => ({ way: normalize(w.way), exact: false }))
    for (const told of [ways, loosely, [null, null], [ways[0], null], [null, loosely[1]]] as Parameters<
      typeof cubicAlong
    >[2][]) {
      const made = cubicAlong(poles[0], poles[3], told, samples)
      made.forEach((p, i) => expect(distance(p, poles[i])).toBeLessThan(1e-6))
    }
  })
  it('is found within planes that hold its ways, but not within others', () => {
    const planes = (aslant: Vec3) =>
      ways.map(({ way }) => ({
        way: aslant,
        exact: false,
        within: [aslant, [0, 1, 2].map((k) => way[k] - 2 * aslant[k]) as unknown as Vec3],
      })) as unknown as Parameters<typeof cubicAlong>[2]
    const made = cubicAlong(poles[0], poles[3], planes([1, -2, 0.5]), samples)
    made.forEach((p, i) => expect(distance(p, poles[i])).toBeLessThan(1e-6))
    const level = [
      {
        way: [1, 0, 0],
        exact: false,
        within: [
          [1, 0, 0],
          [0, 1, 0],
        ],
      },
      null,
    ] as Parameters<typeof cubicAlong>[2]
    const bent = cubicAlong(
      poles[0],
      poles[3],
      level,
      samples.map(({ t, at }) => ({ t, at: [at[0], at[1], at[2] + 0.3 * t] as Vec3 })),
    )
    expect(bent[1][2]).toBe(0)
    expect(bent[1][0]).toBeGreaterThan(2)
  })
  it('raised to degree 5 runs the same', () => {
    const five = raised(poles)
    expect(five).toHaveLength(6)
    for (const t of [0, 0.3, 0.77, 1]) {
      const p = [0, 1, 2].map((k) => bernstein(t).reduce((s, w, i) => s + w * five[i][k], 0)) as unknown as Vec3
      expect(distance(p, on(poles, t))).toBeLessThan(1e-12)
    }
  })
})
