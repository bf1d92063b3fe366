/** Where a body lies, how it is turned and which hand it has changes nothing of what a step makes of it. */
import { describe, expect, it } from '@jest/globals'
import { compose, mirror, rotation, translation, type Affine } from '@/core/math/affine'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { isMesh } from '@/core/bodies/body'
import { box, cylinder, shaken, sphere, torus, without } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'

const turned: Affine = compose(translation([31, -17, 9]), rotation([0.36, 0.48, 0.8], 37))
const mirrored: Affine = mirror([3, 0, 0], [1, 0, 0])

const openBox = without(box(12, 10, 8, 3), (_x, _y, z) => z > 7.9)
const openBall = without(sphere(8, 3), (_x, _y, z) => z > 6)

/** Steps, what they are tried on, and within which share volume and area are the same. */
const cases: [string, TriMesh, Record<string, unknown>, number][] = [
  ['mend/close-holes', openBox, { how: 'flat' }, 1e-5],
  ['mend/close-holes', openBall, { how: 'smooth' }, 5e-3],
  ['mend/close-holes', openBall, { how: 'curvature' }, 5e-3],
  ['mend/smooth', shaken(sphere(8, 3), 0.1), { how: 'even', strength: 50, passes: 5 }, 1e-5],
  ['mend/refine', box(12, 10, 8, 2), { edge: 2 }, 1e-5],
  ['mend/simplify', torus(9, 3, 40, 20), { share: 40 }, 5e-3],
  ['mend/reskin', torus(9, 3, 40, 20), { edge: 0.8 }, 5e-3],
  ['build/offset', box(12, 10, 8, 2), { by: 0.7 }, 1e-4],
  ['build/thicken', openBox, { by: 0.8 }, 2e-3],
  ['convert/facet-solid', box(12, 10, 8, 2), {}, 1e-6],
  ['convert/clean-solid', cylinder(6, 9, 48, 2), {}, 1e-5],
]

interface Sizes {
  volume: number
  area: number
}
async function sizes(kind: string, mesh: TriMesh, set: Record<string, unknown>): Promise<Sizes> {
  const { bodies } = await runStep(kind, { body: 'm', ...set }, { m: mesh })
  const made = bodies.m ?? Object.values(bodies).find((b) => b)!
  if (isMesh(made)) return { volume: meshVolume(made.mesh), area: meshArea(made.mesh) }
  const { volume, area } = (made as unknown as { facts: Sizes }).facts
  return { volume, area }
}

describe('a step on a body that was moved or mirrored', () => {
  it.each(cases)('%s (%#) makes the same of it', async (kind, mesh, set, within) => {
    const here = await sizes(kind, mesh, set)
    const there = await sizes(kind, transformMesh(mesh, turned), set)
    const other = await sizes(kind, transformMesh(mesh, mirrored), set)
    for (const s of [there, other]) {
      expect(Math.abs(s.volume / here.volume - 1)).toBeLessThan(within)
      expect(Math.abs(s.area / here.area - 1)).toBeLessThan(within)
    }
  })
})
