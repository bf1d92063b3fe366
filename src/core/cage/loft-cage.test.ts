import { describe, expect, it } from '@jest/globals'
import { hermite, splineSlopes } from '@/core/math/clamped-cubic'
import { cageTopology, limitPlaces } from '@/core/subdivision/subdivide'
import { limitSkin } from '@/core/kinds/cage'
import { meshVolume } from '@/core/mesh/measures'
import { NearestInGrid } from '@/core/mesh/nearest'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { evenShares, placesAt, samplesInGap, sharesByBend, type Section } from './divide-section'
import { loftCage, type LoftChoice } from './loft-cage'

const circle = (name: string, r: number, z: number, n = 200, from = 0): Section => ({
  name,
  closed: true,
  places: Array.from({ length: n }, (_, i) => {
    const a = from + (2 * Math.PI * i) / n
    return [r * Math.cos(a), r * Math.sin(a), z] as const
  }),
})
const plain: LoftChoice = { columns: 16, rows: 3, byBend: 0, round: false, caps: true, square: null }

describe('cubic splines', () => {
  it('hold the cubic that they are told of, by values and slopes at the ends (de Boor: complete splines reproduce cubics)', () => {
    const f = (x: number) => 2 - x + 3 * x ** 2 - 0.5 * x ** 3
    const g = (x: number) => -1 + 6 * x - 1.5 * x ** 2
    const at = [0, 1, 2.5, 3, 5]
    const slopes = splineSlopes(at, at.map(f), [g(0), g(5)])
    slopes.forEach((s, i) => expect(s).toBeCloseTo(g(at[i]), 10))
    expect(hermite(f(1), f(2.5), slopes[1], slopes[2], 1.5, 0.4)).toBeCloseTo(f(1.6), 10)
  })
  it('natural ones bend nowhere at their ends, and closed ones go on where they began', () => {
    expect(splineSlopes([0, 1, 2], [0, 1, 2], [null, null])).toEqual([1, 1, 1])
    const n = 24
    const at = Array.from({ length: n + 1 }, (_, i) => (2 * Math.PI * i) / n)
    const s = splineSlopes(at, at.slice(0, n).map(Math.sin), 'closed')
    s.forEach((v, i) => expect(v).toBeCloseTo(Math.cos(at[i]), 3))
  })
})

describe('sections divided', () => {
  const dividedOpen = (section: Section, columns: number, byBend: number) => {
    const samples = placesAt(section, evenShares(columns * samplesInGap, section.closed))
    return placesAt(section, sharesByBend([samples], section.closed, columns, byBend))
  }
  it('evenly', () => {
    const corner: Section = {
      name: 'L',
      closed: false,
      places: [
        [0, 0, 0],
        [30, 0, 0],
        [30, 10, 0],
      ],
    }
    expect(dividedOpen(corner, 4, 0)[2]).toEqual([20, 0, 0])
  })
  it('denser where they bend, and no gap much wider than the one beside it', () => {
    // An arc between two long lines.
    const arc = Array.from({ length: 21 }, (_, i) => {
      const a = -Math.PI / 2 + (Math.PI / 2) * (i / 20)
      return [100 + 5 * Math.cos(a), 5 + 5 * Math.sin(a), 0] as const
    })
    const bent: Section = { name: 'bent', closed: false, places: [[0, 0, 0], ...arc, [105, 105, 0]] }
    const onArc = (byBend: number) => dividedOpen(bent, 20, byBend).filter(([x, y]) => x > 99 && y < 6).length
    expect(onArc(0)).toBe(1)
    expect(onArc(0.5)).toBeGreaterThan(onArc(0))
    expect(onArc(1)).toBeGreaterThan(5)
    const row = dividedOpen(bent, 20, 1)
    const gaps = row.slice(1).map((x, i) => Math.hypot(x[0] - row[i][0], x[1] - row[i][1]))
    gaps.slice(1).forEach((g, i) => expect(Math.max(g / gaps[i], gaps[i] / g)).toBeLessThan(1.75))
    expect(row[0]).toEqual([0, 0, 0])
    row[20].forEach((x, k) => expect(x).toBeCloseTo([105, 105, 0][k], 6))
  })
})

/** Sections of a head: a rounded outline with a nose that comes and goes, drawn from other starts, rows as a tracing gives them. */
const headSections = (noise: number): Section[] => {
  let seed = 7
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5
  const bump = (a: number) => Math.exp(-(((((a + Math.PI) % (2 * Math.PI)) - Math.PI) / 0.12) ** 2))
  return Array.from({ length: 9 }, (_, k) => {
    const u = k / 8
    const nose = 20 * Math.exp(-(((u - 0.5) / 0.18) ** 2))
    const start = 17 * k
    return {
      name: `s${k}`,
      closed: true,
      places: Array.from({ length: 180 }, (_, i) => {
        const a = (2 * Math.PI * (i + start)) / 180
        const r = (40 + nose * bump(a)) * (1 - 0.35 * (2 * u - 1) ** 2)
        return [1.2 * r * Math.cos(a) + noise * random(), r * Math.sin(a) + noise * random(), 20 * k] as const
      }),
    }
  })
}

describe('a cage through sections', () => {
  it('of two circles is a cylinder with flat ends: closed, on the circle, its volume', () => {
    const cage = loftCage([circle('a', 10, 0), circle('b', 10, 30, 200, 1)], plain)
    const { twin, edges } = cageTopology(cage)
    expect(twin.every((t) => t >= 0)).toBe(true)
    expect(cage.positions.length / 3 - edges + cage.quads.length / 4).toBe(2)
    const skin = limitSkin(cage).mesh
    for (let o = 0; o < skin.positions.length; o += 3)
      if (skin.positions[o + 2] > 1 && skin.positions[o + 2] < 29)
        expect(Math.abs(Math.hypot(skin.positions[o], skin.positions[o + 1]) - 10)).toBeLessThan(0.02)
    expect(Math.abs(meshVolume(skin) / (Math.PI * 100 * 30) - 1)).toBeLessThan(0.005)
  })
  it.each([0, 0.3])(
    'of a head comes closer the denser it is where it bends, and never crosses itself; noise %d',
    (noise) => {
      const sections = headSections(noise)
      const off = (byBend: number) => {
        const skin = limitSkin(loftCage(sections, { ...plain, columns: 24, rows: 3, byBend })).mesh
        expect(findSelfCrossings(skin)).toHaveLength(0)
        const near = new NearestInGrid(skin)
        const far = sections.flatMap((s) => s.places.map(([x, y, z]) => Math.sqrt(near.square(x, y, z))))
        return { mean: far.reduce((s, x) => s + x, 0) / far.length, most: Math.max(...far) }
      }
      const [even, half, bend] = [off(0), off(0.5), off(1)]
      expect(half.most).toBeLessThan(even.most)
      expect(bend.most).toBeLessThan(half.most)
      for (const { mean } of [half, bend]) expect(mean).toBeLessThan(1.1 * even.mean)
    },
  )
  it('runs through the places of each section; whichever way each is drawn', () => {
    const three = [circle('a', 10, 0), circle('b', 14, 20), circle('c', 8, 50)]
    const turned = { ...three[1], places: [...three[1].places].reverse() }
    for (const list of [three, [three[0], turned, three[2]]]) {
      const p = limitPlaces(loftCage(list, { ...plain, caps: false }))
      for (const [r, z] of [
        [10, 0],
        [14, 20],
        [8, 50],
      ]) {
        const on = Array.from({ length: p.length / 3 }, (_, v) => v).filter((v) => Math.abs(p[3 * v + 2] - z) < 1e-3)
        expect(on.length).toBe(16)
        for (const v of on) expect(Math.hypot(p[3 * v], p[3 * v + 1])).toBeCloseTo(r, 2)
      }
    }
  })
  it('square to its ends: a cone between circles leaves them straight up', () => {
    const list = [circle('a', 10, 0), circle('b', 20, 40)]
    const radius = (square: number | null) => {
      const p = limitPlaces(loftCage(list, { ...plain, rows: 8, caps: false, square }))
      const at5 = Array.from({ length: p.length / 3 }, (_, v) => v)
        .filter((v) => p[3 * v + 2] > 0.5)
        .sort((a, b) => p[3 * a + 2] - p[3 * b + 2])[0]
      return (Math.hypot(p[3 * at5], p[3 * at5 + 1]) - 10) / p[3 * at5 + 2]
    }
    expect(radius(null)).toBeCloseTo(0.25, 2)
    expect(radius(1)).toBeLessThan(0.1)
  })
  it('runs round through four circles: a ring, of Euler number 0', () => {
    const ring = Array.from({ length: 8 }, (_, k): Section => {
      const a = (2 * Math.PI * k) / 8
      return {
        name: `s${k}`,
        closed: true,
        places: Array.from({ length: 100 }, (_, i) => {
          const b = (2 * Math.PI * i) / 100
          return [(30 + 8 * Math.cos(b)) * Math.cos(a), (30 + 8 * Math.cos(b)) * Math.sin(a), 8 * Math.sin(b)] as const
        }),
      }
    })
    const cage = loftCage(ring, { ...plain, round: true })
    const { twin, edges } = cageTopology(cage)
    expect(twin.every((t) => t >= 0)).toBe(true)
    expect(cage.positions.length / 3 - edges + cage.quads.length / 4).toBe(0)
    // Pappus: 2 pi 30 times pi 64.
    expect(Math.abs(meshVolume(limitSkin(cage).mesh) / (2 * Math.PI * 30 * Math.PI * 64) - 1)).toBeLessThan(0.01)
  })
  it('tells what cannot be lofted', () => {
    const open: Section = {
      name: 'open',
      closed: false,
      places: [
        [0, 0, 9],
        [9, 0, 9],
      ],
    }
    expect(() => loftCage([circle('a', 10, 0)], plain)).toThrow(/two of them/)
    expect(() => loftCage([circle('a', 10, 0), open], plain)).toThrow('"a" is closed and "open" is open')
    expect(() => loftCage([circle('a', 10, 0), circle('b', 10, 9)], { ...plain, round: true })).toThrow(
      /three sections/,
    )
  })
})
