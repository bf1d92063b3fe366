/** What is told of regions by hand: merged, split, painted over, of another kind; and clean solids made of what a mesh remembers. */
import { beforeAll, describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import { resolveRegion } from '@/core/find/region'
import { meshBody, type MeshBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { concatMeshes, triangleCount } from '@/core/mesh/tri-mesh'
import { bracketShape } from '@/core/scan/shapes'
import { box, cylinder, shifted } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { recognise, type Recognised } from './recognise'
import { recognisedOf, tagsOf, tagsOnPart } from './recognised-tags'
import { withTold } from './told'

const pin = cylinder(10, 30, 48, 4)
const on = (a: number, z: number): Vec3 => [10 * Math.cos(a), 10 * Math.sin(a), z]
const kinds = (r: Recognised) => r.regions.map((x) => x.shape?.kind ?? 'free').sort()
const whole = (r: Recognised) => r.regions.reduce((s, x) => s + x.triangles.length, 0)
/** The upper half of the wall, brushed round. */
const upper = {
  pick: 'brush' as const,
  mode: 'add' as const,
  path: Array.from({ length: 48 }, (_, i) => on((i * Math.PI) / 24, 22.5)),
  radius: 3,
}

describe('regions told by hand', () => {
  const found = recognise(pin)
  it('a painted part becomes a region of its own, and two made one are as before', () => {
    const split = withTold(pin, found, [{ at: [], paint: [upper], shape: 'cylinder' }])
    expect(kinds(split)).toEqual(['cylinder', 'cylinder', 'plane', 'plane'])
    expect(whole(split)).toBe(triangleCount(pin))
    const again = withTold(pin, split, [{ at: [on(0.1, 3), on(0.1, 28)], shape: 'same' }])
    expect(kinds(again)).toEqual(kinds(found))
    const wall = again.regions.find((r) => r.shape?.kind === 'cylinder')!
    expect(wall.shape!.radius).toBeCloseTo(10, 5)
    expect(wall.triangles.length).toBe(found.regions.find((r) => r.shape?.kind === 'cylinder')!.triangles.length)
  })
  it('triangles painted over go to the region that is told, and leave the other', () => {
    const split = withTold(pin, found, [{ at: [], paint: [upper], shape: 'cylinder' }])
    const before = split.regions.at(-1)!.triangles.length
    const more = { ...upper, path: [on(0.1, 8)], radius: 5 }
    const moved = withTold(pin, split, [{ at: [on(0.1, 28)], paint: [more], shape: 'same' }])
    expect(kinds(moved)).toEqual(kinds(split))
    expect(moved.regions.at(-1)!.triangles.length).toBeGreaterThan(before)
    expect(whole(moved)).toBe(triangleCount(pin))
  })
  it('a region told free has no shape; told another kind it has that one, however badly it serves', () => {
    expect(kinds(withTold(pin, found, [{ at: [on(0.1, 15)], shape: 'free' }]))).toEqual(['free', 'plane', 'plane'])
    const ball = withTold(pin, found, [{ at: [on(0.1, 15)], shape: 'sphere' }])
    expect(kinds(ball)).toEqual(['plane', 'plane', 'sphere'])
    expect(ball.regions.at(-1)!.shape!.rms).toBeGreaterThan(0.1)
  })
  it('what is not there any more is said', () => {
    const gone = { ...upper, path: [[500, 0, 0] as Vec3], radius: 1 }
    const tell = () => withTold(pin, found, [{ at: [], paint: [gone], shape: 'best' }])
    expect(tell).toThrow(/not there any more/)
    expect(() => withTold(pin, found, [{ at: [], shape: 'best' }])).toThrow(/not there any more/)
  })
})

describe('what a mesh remembers', () => {
  let bracket: MeshBody
  beforeAll(async () => {
    bracket = meshBody(await bracketShape({ sides: 48 }))
  })
  it('comes back with the same regions and shapes', () => {
    const found = recognise(bracket.mesh)
    const back = recognisedOf(bracket.mesh, tagsOf(bracket.mesh, found, undefined))!
    expect(kinds(back)).toEqual(kinds(found))
    expect(back.drawn).toBe(true)
    const radii = (r: Recognised) =>
      r.regions.flatMap((x) => (x.shape?.radius ? [Number(x.shape.radius.toFixed(4))] : [])).sort()
    expect(radii(back)).toEqual(radii(found))
    expect(recognisedOf(bracket.mesh, undefined)).toBeNull()
  })
  it('is picked as whole faces; where nothing is known, as far as one surface goes', () => {
    const two = withTold(pin, recognise(pin), [{ at: [], paint: [upper], shape: 'cylinder' }])
    const pick = [{ pick: 'face' as const, mode: 'add' as const, at: on(0.1, 26) }]
    const count = (tags?: ReturnType<typeof tagsOf>) => resolveRegion(pin, pick, tags).reduce((s, v) => s + v, 0)
    expect(count(tagsOf(pin, two, undefined))).toBe(two.regions.at(-1)!.triangles.length)
    expect(count()).toBe(48 * 2 * 4)
  })
  it('goes with a piece that is taken out', () => {
    const two = concatMeshes([pin, shifted(box(5, 5, 5), 40, 0, 0)])
    const tags = tagsOf(two, recognise(two), undefined)
    expect(kinds(recognisedOf(pin, tagsOnPart({ mesh: two, tags }, pin))!)).toEqual(['cylinder', 'plane', 'plane'])
  })
  it('serves Clean solid: a bore told free stays facets, the rest is exact', async () => {
    const facts = recognise(bracket.mesh).regions.find((r) => r.shape?.kind === 'cylinder' && r.shape.inside)!
    const t = facts.triangles[0]
    const at = [0, 1, 2].map((k) =>
      [0, 1, 2].reduce((s, c) => s + bracket.mesh.positions[3 * bracket.mesh.triangles[3 * t + c] + k] / 3, 0),
    )
    const made = await runStep('convert/recognise', { body: 'b', told: [{ at: [at], shape: 'free' }] }, { b: bracket })
    expect(made.facts.free).toBe(1)
    const solid = await runStep(
      'convert/clean-solid',
      { body: 'b', way: 'faces', leftovers: 'facets', name: 's' },
      { b: made.bodies.b! },
    )
    expect(solid.facts.valid).toBe(true)
    expect(Number(solid.facts.faceted)).toBeGreaterThan(20)
    const plain = await runStep('convert/clean-solid', { body: 'b', way: 'faces', name: 's' }, { b: bracket })
    expect(plain.facts.faceted).toBe(0)
    expect(Number(solid.facts.volume)).toBeCloseTo(Number(plain.facts.volume), -2)
    const fitted = await runStep('convert/clean-solid', { body: 'b', way: 'faces', name: 's' }, { b: made.bodies.b! })
    expect(fitted.facts).toMatchObject({ valid: true, faceted: 0 })
    expect(Number(fitted.facts.fitted)).toBeGreaterThan(2)
    expect(Number(fitted.facts.volume)).toBeCloseTo(Number(plain.facts.volume), -1)
  })
  it('what is told wrong is refused in words', async () => {
    const told = [{ at: [on(0.1, 15)], paint: [{ pick: 'brush', mode: 'add', path: [[900, 0, 0]], radius: 1 }] }]
    const error = await runStep('convert/recognise', { body: 'p', told }, { p: pin }).catch((e: unknown) => e)
    expect(reportError(error).message).toMatch(/not there any more/)
  })
})
