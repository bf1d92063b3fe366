/** The noise of a mesh from its faces, and what is recognised under it: against the standard deviation that was put in. */
import { beforeAll, describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { meshBody } from '@/core/bodies/body'
import { facetSolid } from '@/core/kernels/exact/triangles'
import { buildTopology } from '@/core/mesh/topology'
import { triangleArea, triangleNormals } from '@/core/mesh/triangle'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { mostly } from '@/testing/long'
import { runStep } from '@/testing/run-step'
import { sphere } from '@/testing/shapes'
import { faceNoiseOf } from './face-noise'
import { recognise } from './recognise'

const measured = (mesh: TriMesh) =>
  faceNoiseOf(
    mesh,
    buildTopology(mesh),
    triangleNormals(mesh),
    Float64Array.from({ length: triangleCount(mesh) }, (_, t) => triangleArea(mesh, t)),
  )
/** Corners off by normal noise of a standard deviation (Box & Muller 1958). */
function noisy(mesh: TriMesh, sigma: number, seed = 11): TriMesh {
  const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647
  const normal = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random())
  return { ...mesh, positions: mesh.positions.map((v) => v + sigma * normal()) }
}

let plate: ExactBody
beforeAll(async () => {
  const block = await runStep('build/block', { name: 'b', size: [80, 50, 8], at: [0, 0, 0] }, {})
  const at = [
    [30, 15, 8],
    [-30, 15, 8],
    [30, -15, 8],
    [-30, -15, 8],
  ]
  const bored = await runStep('build/hole', { body: 'b', at, diameter: 6.6, through: true }, { b: block.bodies.b! })
  plate = bored.bodies.b as ExactBody
}, 60_000)

describe('noise', () => {
  it('is told to a sixth of itself by a plate with bores, coarse and fine; nought where there is none', async () => {
    for (const chord of [0.2, 0.02]) {
      const { mesh } = await facetSolid(plate, chord)
      expect(measured(mesh).sigma).toBeLessThan(1e-6)
      for (const sigma of [0.0019, 0.005]) {
        const { sigma: found, share } = measured(noisy(mesh, sigma))
        expect(Math.abs(found / sigma - 1)).toBeLessThan(0.17)
        expect(share).toBeGreaterThan(0.2)
      }
    }
  })
  it('is not what a ball’s facets bend: those of a true ball tell a thirtieth of their sagitta', () => {
    const ball = sphere(20, 5)
    // 20 480 triangles of edges about 0.75 mm: sagitta 3.5e-3.
    expect(measured(ball).sigma).toBeLessThan(1.2e-4)
    expect(Math.abs(measured(noisy(ball, 0.004)).sigma / 0.004 - 1)).toBeLessThan(0.1)
  })
})

describe('a plate with four bores, corners off by noise', () => {
  const cases = [
    [0.2, 0.0019],
    [0.2, 0.005],
    [0.2, 0.02],
    [0.02, 0.0019],
    [0.02, 0.02],
  ] as const
  it.each(mostly(cases, ([, sigma]) => sigma === 0.005 || sigma === 0.0019))(
    'chord %d, noise %d: ten faces, each bore, and a volume within a thousandth',
    async (chord, sigma) => {
      const { mesh } = await facetSolid(plate, chord)
      const m = noisy(mesh, sigma)
      expect(
        recognise(m)
          .regions.map((r) => r.shape?.kind)
          .sort(),
      ).toEqual([...Array<string>(4).fill('cylinder'), ...Array<string>(6).fill('plane')])
      for (const r of recognise(m).regions)
        if (r.shape?.kind === 'cylinder') expect(Math.abs(r.shape.radius! - 3.3)).toBeLessThan(0.5 * sigma + 1e-4)
      const made = await runStep('convert/clean-solid', { body: 'm', name: 'x' }, { m: meshBody(m) })
      const solid = made.bodies.x as ExactBody
      expect(solid.facts.faceKinds).toMatchObject({ plane: 6, cylinder: 4, bspline: 0, other: 0 })
      expect(Math.abs(solid.facts.volume / plate.facts.volume - 1)).toBeLessThan(1e-3)
      expect((made.facts.deviation as { max: number }).max).toBeLessThan(7 * sigma)
    },
  )
})
