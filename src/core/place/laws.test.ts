/** Every way of setting a body down moves it whole: nothing is bent, and its skin keeps facing outward. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { meshVolume } from '@/core/mesh/measures'
import { boundsCentre, boundsSize, meshBounds, transformMesh, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import {
  about,
  applyPoint,
  compose,
  determinant,
  identity,
  mirror,
  rotation,
  rotationBetween,
  scaling,
  translation,
  type Affine,
} from '@/core/math/affine'
import { normalize, type Vec3 } from '@/core/math/vec'
import { box, cylinder, shifted, sphere, torus } from '@/testing/shapes'
import { meshOf, runStep } from '@/testing/run-step'
import { itLong, longRun } from '@/testing/long'

/** Something without any symmetry, away from the origin. */
const part = transformMesh(box(30, 20, 10, 3), compose(translation([14, -9, 5]), rotation([0.36, 0.48, 0.8], 33)))
const gap = (m: TriMesh, i: number, j: number) => {
  const a = vertex(m, i),
    b = vertex(m, j)
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
}

/** All distances between some vertices, over those before: the same factor everywhere when nothing is bent. */
function factors(before: TriMesh, after: TriMesh): [number, number] {
  const n = before.positions.length / 3
  let lo = Infinity,
    hi = 0
  for (let i = 0; i < n; i += 3)
    for (let j = i + 1; j < n; j += 5) {
      const f = gap(after, i, j) / gap(before, i, j)
      lo = Math.min(lo, f)
      hi = Math.max(hi, f)
    }
  return [lo, hi]
}

describe('set down', () => {
  it.each<[string, Record<string, unknown>, number, (m: TriMesh) => void]>([
    [
      'set-down/move',
      { by: [3, -4, 12] },
      1,
      (m) =>
        boundsCentre(meshBounds(m)).forEach((v, i) =>
          expect(v).toBeCloseTo(boundsCentre(meshBounds(part))[i] + [3, -4, 12][i], 3),
        ),
    ],
    ['set-down/turn', { axis: 'y', angle: 77 }, 1, () => {}],
    ['set-down/turn', { axis: 'own', direction: [1, 2, 2], angle: -140, about: 'origin' }, 1, () => {}],
    [
      'set-down/centre',
      { x: true, y: true, z: true },
      1,
      (m) => boundsCentre(meshBounds(m)).forEach((v) => expect(v).toBeCloseTo(0, 4)),
    ],
    ['set-down/rest', {}, 1, (m) => expect(meshBounds(m).min[2]).toBeCloseTo(0, 5)],
    ['set-down/mirror', { across: 'y', at: 2 }, 1, () => {}],
    ['set-down/swap-up', { up: '-x' }, 1, () => {}],
    ['set-down/size', { how: 'factor', factor: 2.5 }, 2.5, () => {}],
    ['set-down/size', { how: 'inch-to-mm' }, 25.4, () => {}],
    ['set-down/size', { how: 'mm-to-inch' }, 1 / 25.4, () => {}],
    [
      'set-down/size',
      { how: 'size', along: 'longest', size: 77 },
      77 / Math.max(...boundsSize(meshBounds(part))),
      (m) => expect(Math.max(...boundsSize(meshBounds(m)))).toBeCloseTo(77, 2),
    ],
    [
      'set-down/face-to-floor',
      { region: [{ pick: 'grow', mode: 'add', at: [...vertex(part, 20)], angle: 5 }] },
      1,
      (m) => expect(meshBounds(m).min[2]).toBeCloseTo(0, 3),
    ],
  ])('%s %j keeps the shape', async (kind, set, factor, also) => {
    const out = meshOf(await runStep(kind, { body: 'part', ...set }, { part }), 'part')
    const [lo, hi] = factors(part, out)
    expect(lo / factor).toBeCloseTo(1, 3)
    expect(hi / factor).toBeCloseTo(1, 3)
    // Signed volume: an inside-out body would have a negative one.
    expect(meshVolume(out) / (6000 * factor ** 3)).toBeCloseTo(1, 3)
    also(out)
  })
  it('there and back again', async () => {
    const way: [string, Record<string, unknown>, Record<string, unknown>][] = [
      ['set-down/move', { by: [1, 2, 3] }, { by: [-1, -2, -3] }],
      ['set-down/turn', { axis: 'x', angle: 31, about: 'origin' }, { axis: 'x', angle: -31, about: 'origin' }],
      ['set-down/mirror', { across: 'z', at: 4 }, { across: 'z', at: 4 }],
      ['set-down/size', { how: 'inch-to-mm' }, { how: 'mm-to-inch' }],
      ['set-down/swap-up', { up: 'y' }, { up: '-y' }],
    ]
    for (const [kind, there, back] of way) {
      const out = meshOf(
        await runStep(
          kind,
          { body: 'part', ...back },
          { part: meshOf(await runStep(kind, { body: 'part', ...there }, { part }), 'part') },
        ),
        'part',
      )
      for (let v = 0; v < part.positions.length; v += 7) expect(out.positions[v]).toBeCloseTo(part.positions[v], 3)
    }
  })
  it('says what cannot be', async () => {
    await expect(runStep('set-down/size', { body: 'p', how: 'factor', factor: 0 }, { p: part })).rejects.toThrow()
    await expect(
      runStep(
        'set-down/line-up',
        { body: 'p', to: 'p', touch: { as: 'point', at: [0, 0, 0] }, touchTo: { as: 'point', at: [0, 0, 0] } },
        { p: part },
      ),
    ).rejects.toThrow(/with itself/)
    await expect(runStep('set-down/match', { body: 'p', to: 'p' }, { p: part })).rejects.toThrow(/to itself/)
    await expect(
      runStep(
        'set-down/match',
        { body: 'p', to: 'q', start: 'pairs', from: [[0, 0, 0]], onto: [] },
        { p: part, q: part },
      ),
    ).rejects.toThrow(/1 places are picked on one body and 0 on the other/)
    await expect(
      runStep('set-down/three-touch', { body: 'p', face: { as: 'line', at: [0, 0, 0], to: [0, 0, 0] } }, { p: part }),
    ).rejects.toThrow(/two points apart/)
  })
})

describe('lining up', () => {
  it('makes axes one whatever they were, face to face with any gap, and leaves the other body alone', async () => {
    const rng = random(3)
    for (let i = 0; i < 4; i++) {
      const tilt: Affine = compose(
        translation([10 * rng.next(), 10 * rng.next(), 10 * rng.next()]),
        rotation(normalize([rng.normal(), rng.normal(), rng.normal()]), 360 * rng.next()),
      )
      const peg = transformMesh(cylinder(4, 20, 96, 4), tilt),
        hub = shifted(cylinder(9, 12, 128, 3), 40, 5, -3)
      const out = await runStep(
        'set-down/line-up',
        {
          body: 'peg',
          to: 'hub',
          how: 'concentric',
          touch: { as: 'axis', at: [...applyPoint(tilt, [4, 0, 10])] },
          touchTo: { as: 'axis', at: [49, 5, 3] },
        },
        { peg, hub },
      )
      const moved = meshOf(out, 'peg')
      expect(Object.keys(out.bodies)).toEqual(['peg'])
      // Every vertex of the peg's wall stands 4 mm from the hub's axis.
      for (let v = 0; v < 96 * 5; v += 11) {
        const [x, y] = vertex(moved, v)
        expect(Math.hypot(x - 40, y - 5)).toBeCloseTo(4, 2)
      }
      expect(factors(peg, moved)[1]).toBeCloseTo(1, 3)
    }
    const one = shifted(box(10, 10, 10, 2), 30, 0, 0),
      two = box(20, 20, 5, 2)
    for (const space of [0, 1.5]) {
      const out = meshOf(
        await runStep(
          'set-down/line-up',
          {
            body: 'one',
            to: 'two',
            how: 'facing',
            gap: space,
            touch: { as: 'plane', at: [35, 5, 0] },
            touchTo: { as: 'plane', at: [10, 10, 5] },
          },
          { one, two },
        ),
        'one',
      )
      expect(meshBounds(out).min[2]).toBeCloseTo(5 + space, 3)
    }
  })
  itLong('Match to body finds a moved copy again, however it was turned', async () => {
    const body = transformMesh(torus(20, 5, 40, 16), scaling(1, 0.8, 0.6))
    const rng = random(9)
    for (let i = 0; i < (longRun ? 3 : 1); i++) {
      const away = compose(
        translation([8 * rng.normal(), 8 * rng.normal(), 8 * rng.normal()]),
        rotation(normalize([rng.normal(), rng.normal(), rng.normal()]), 25 * rng.next()),
      )
      const r = await runStep(
        'set-down/match',
        { body: 'copy', to: 'body', start: 'axes' },
        { copy: transformMesh(body, away), body },
      )
      expect(Number(r.facts.rms)).toBeLessThan(0.02)
      expect(Number(r.facts.rmsBefore)).toBeGreaterThan(Number(r.facts.rms))
    }
  })
})

describe('affine maps', () => {
  const near = (a: readonly number[], b: readonly number[], digits = 9) =>
    a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits))
  it('compose as they are applied, keep or turn handedness, and leave what they should', () => {
    const rng = random(2)
    for (let i = 0; i < 20; i++) {
      const p: Vec3 = [rng.normal(), rng.normal(), rng.normal()],
        axis = normalize([rng.normal(), rng.normal(), rng.normal()])
      const a = rotation(axis, 360 * rng.next()),
        b = translation([rng.normal(), rng.normal(), rng.normal()])
      near(applyPoint(compose(a, b), p), applyPoint(a, applyPoint(b, p)))
      expect(determinant(a)).toBeCloseTo(1, 9)
      near(applyPoint(a, axis), axis)
      near(applyPoint(about(p, a), p), p)
      expect(determinant(mirror(p, axis))).toBeCloseTo(-1, 9)
      near(compose(mirror(p, axis), mirror(p, axis)), identity)
      const to = normalize([rng.normal(), rng.normal(), rng.normal()])
      near(applyPoint(rotationBetween(axis, to), axis), to)
    }
    // Turned right round: no shortest way, but one that works.
    near(applyPoint(rotationBetween([0, 0, 1], [0, 0, -1]), [0, 0, 1]), [0, 0, -1])
    expect(meshVolume(transformMesh(sphere(5, 3), scaling(2)))).toBeCloseTo(8 * meshVolume(sphere(5, 3)), 1)
  })
})
