/** Parts of known faces under noise: each face one region of its kind, radii within what noise leaves free. */
import { describe, expect, it } from '@jest/globals'
import { mostly } from '@/testing/long'
import { makePart } from '@/testing/clean-set/parts'
import { facetings, knownMesh, noises, noisy, scoreOf, sizeOf, type Faceting } from '@/testing/clean-set/truth'
import { recognise } from '../recognise'

const [, slight, some, strong] = noises
const cases: readonly (readonly [string, Faceting, number])[] = [
  // Flat sides of two triangles that run on into rounds: lost before.
  ['rounded housing', 'coarse', some],
  ['plate with slots', 'fine', slight],
  // Slender and blunt cones, and rounds that no patch fits by itself.
  ['drafted box', 'coarse', some],
  ['stepped shaft', 'coarse', slight],
  ['nozzle', 'fine', strong],
  ['rounded block', 'coarse', slight],
  // Corners so few that no stretch tells the noise: it is found by trial.
  ['vee block', 'coarse', some],
  ['heat sink', 'coarse', strong],
  ['gear', 'coarse', strong],
  ['box with bosses', 'fine', some],
  // Rings beside cylinders, and facets divided anew.
  ['shaft with rounds', 'even', some],
  ['round flange', 'even', slight],
  ['motor mount', 'even', strong],
]

describe('a noisy part is told face for face', () => {
  it.each(mostly(cases, ([, how]) => how !== 'even'))(
    '%s, %s facets, noise %d of its size',
    async (name, how, share) => {
      const known = await knownMesh(await makePart(name), how)
      const mesh = noisy(known.mesh, share * sizeOf(known.mesh))
      const found = recognise(mesh)
      expect(scoreOf({ ...known, mesh }, found)).toMatchObject({ missing: 0, invented: 0 })
      expect(facetings).toContain(how)
    },
  )
  it('radii of bores lie within five of their standard deviations, and the noise is told within a third', async () => {
    const known = await knownMesh(await makePart('motor mount'), 'coarse')
    const sigma = some * sizeOf(known.mesh)
    const { regions, noise } = recognise(noisy(known.mesh, sigma))
    expect(Math.abs(noise / sigma - 1)).toBeLessThan(0.34)
    const bores = regions.flatMap(({ shape }) => (shape?.kind === 'cylinder' && shape.inside ? [shape] : []))
    const whole = bores.filter((b) => [2.25, 2.75, 11].some((r) => Math.abs(b.radius! - r) < 5 * b.sigma!))
    expect(whole.length).toBeGreaterThanOrEqual(7)
  })
})
