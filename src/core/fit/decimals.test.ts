/** Meshes of few decimals, as text files have them: how many is told, and what was drawn comes back all the same. */
import { describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { compose, rotation, translation } from '@/core/math/affine'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { runStep } from '@/testing/run-step'
import { box, cylinder, sphere } from '@/testing/shapes'
import { decimalStep } from './decimals'
import { recognise } from './recognise'
import { mostly } from '@/testing/long'

const rounded = (m: TriMesh, decimals: number, unit = 1): TriMesh => ({
  ...m,
  positions: m.positions.map((v) => Number((v / unit).toFixed(decimals)) * unit),
})
const aslant = compose(translation([13.7, -41.2, 7.7]), compose(rotation([0.3, 0.5, 0.8], 37), rotation([1, 0, 0], 12)))

describe('the step of coordinates', () => {
  const round = transformMesh(cylinder(10, 40, 64, 3), aslant)
  it.each([3, 4])('of %s decimals', (decimals) => {
    expect(decimalStep(rounded(round, decimals), 50)).toBeCloseTo(10 ** -decimals, 12)
  })
  it('of inches', () => {
    expect(decimalStep(rounded(round, 4, 25.4), 50)).toBeCloseTo(25.4e-4, 12)
  })
  it('is none where nothing was rounded, and where the grid is the part’s own', () => {
    expect(decimalStep(round, 50)).toBe(0)
    expect(decimalStep(sphere(10, 3), 20)).toBe(0)
    expect(decimalStep(box(40, 30, 20, 4), 54)).toBe(0)
    // Coarser than shapes are told by.
    expect(decimalStep(rounded(round, 1), 50)).toBe(0)
  })
})

describe('recognised of few decimals', () => {
  const made = async (kind: string, set: Record<string, unknown>, on: Record<string, ExactBody> = {}) => {
    const { bodies } = await runStep(kind, set, on)
    return (bodies.b ?? Object.values(bodies)[0]) as ExactBody
  }
  const found = (m: TriMesh) => {
    const kinds: Record<string, number> = {}
    const { regions } = recognise(m)
    for (const r of regions) kinds[r.shape?.kind ?? 'free'] = (kinds[r.shape?.kind ?? 'free'] ?? 0) + 1
    return {
      kinds,
      radii: regions.flatMap((r) => (r.shape?.kind === 'cylinder' ? [r.shape.radius!] : [])).sort((a, b) => a - b),
    }
  }

  it.each(mostly([0.02, 0.1], (chord) => chord === 0.1))(
    'a countersunk flange faceted within %s mm: three and four decimals, straight and aslant',
    async (chord) => {
      const around = [0, 1, 2, 3, 4, 5].map((i) => [
        28 * Math.cos((i * Math.PI) / 3),
        28 * Math.sin((i * Math.PI) / 3),
        8,
      ])
      const disc = await made('build/cylinder', { name: 'b', radius: 40, height: 8, at: [0, 0, 0] })
      const flange = await made(
        'build/hole',
        { body: 'b', at: around, diameter: 5, through: true, head: 'countersink', headDiameter: 10 },
        { b: disc },
      )
      const { mesh } = await facetSolid(flange, chord)
      for (const m of [mesh, transformMesh(mesh, aslant)])
        for (const decimals of [3, 4]) {
          const { kinds, radii } = found(rounded(m, decimals))
          expect(kinds).toEqual({ cylinder: 7, cone: 6, plane: 2 })
          // Within the rounding of single corners.
          radii.forEach((r, i) => expect(Math.abs(r - (i < 6 ? 2.5 : 40))).toBeLessThan(10 ** -decimals))
        }
    },
  )
  it('a box with all edges rounded: four decimals, straight and aslant', async () => {
    const block = await made('build/block', { name: 'b', size: [40, 30, 20], at: [0, 0, 0] })
    const { mesh } = await facetSolid(
      await made('build/fillet', { body: 'b', edges: 'all', radius: 4 }, { b: block }),
      0.05,
    )
    for (const m of [mesh, transformMesh(mesh, aslant)])
      expect(found(rounded(m, 4)).kinds).toEqual({ plane: 6, cylinder: 12, sphere: 8 })
  })
})
