/** What recognition and fits come to on small parts, kept as figures: any change to them shows here, and is looked at. */
import { expect, it } from '@jest/globals'
import { add, addScaled, cross, normalize, perpendicular, scale, type Vec3 } from '@/core/math/vec'
import { random } from '@/core/math/random'
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { digest } from '@/testing/digest'
import { itUsually } from '@/testing/long'
import { part, partNames } from '@/testing/parts'
import { extentOf } from './extent'
import { fitBest, fitKind, snapped } from './fit-shape'
import { fitHeld } from './held'
import { partsOfFree } from './parts-of-free'
import { patternOf } from './pattern'
import { noiseOf, recognise } from './recognise'
import { tagsOf, tagsOnPart } from './recognised-tags'
import { fitRegion } from './region-fit'
import { thinned, type Samples } from './samples'
import { normalOf, type Shape, type ShapeKind } from './shape'
import { startOf } from './starts'
import { fitTogether } from './together'
import { wavinessOf } from './waviness'

for (const name of partNames)
  itUsually(!/noisy|terrain|ring/.test(name))(`recognition ${name}`, async () => {
    const mesh = await part(name)
    const found = recognise(mesh)
    // Every triangle is in one region.
    expect(found.regions.reduce((s, r) => s + r.triangles.length, 0)).toBe(triangleCount(mesh))
    const topology = buildTopology(mesh)
    const normals = triangleNormals(mesh)
    const f = { mesh, topology, normals }
    const all = Array.from({ length: triangleCount(mesh) }, (_, t) => t)
    expect(
      digest({
        regions: found.regions.map((r) => [r.shape, r.triangles.length]),
        of: found.of,
        noise: noiseOf(mesh),
        wavy: wavinessOf(mesh, topology, normals),
        wide: recognise(mesh, 0.5).regions.map((r) => [r.shape?.kind, r.triangles.length]),
        free: partsOfFree(f, all, 0.05, 30).map((p) => [p.shape, p.triangles.length]),
        tags: tagsOnPart({ mesh, tags: tagsOf(mesh, found, undefined) }, mesh),
      }),
    ).toMatchSnapshot()
  })

const axis = normalize([0.3, -0.5, 0.8])
const at: Vec3 = [4, -7, 2]
const u = perpendicular(axis)
const v = cross(axis, u)
const place = (r: number, h: number, t: number): Vec3 =>
  add(addScaled(at, axis, h), add(scale(u, r * Math.cos(t)), scale(v, r * Math.sin(t))))
const slope = Math.tan(Math.PI / 9)
const shapes: [Shape, (a: number, b: number) => Vec3][] = [
  [{ kind: 'plane', at, axis }, (a, b) => place(20 * b, 0, a)],
  [{ kind: 'cylinder', at, axis, radius: 7 }, (a, b) => place(7, 18 * b, a)],
  [{ kind: 'cone', at, axis, halfAngle: 20 }, (a, b) => place((6 + 14 * b) * slope, 6 + 14 * b, a)],
  [{ kind: 'sphere', at, radius: 9 }, (a, b) => place(9 * Math.cos(1.2 * b), 9 * Math.sin(1.2 * b), a)],
  [
    { kind: 'ring', at, axis, radius: 12, thickness: 3 },
    (a, b) => place(12 + 3 * Math.cos(5 * b), 3 * Math.sin(5 * b), a),
  ],
]

/** Places of a surface with noise, and a tenth of them beside it. */
function measured([shape, surface]: (typeof shapes)[number], share: number): Samples {
  const { normal, next } = random(3)
  const points: Vec3[] = []
  const normals: Vec3[] = []
  for (let i = 0; i < 24; i++)
    for (let j = 0; j < 16; j++) {
      const p = surface((share * 2 * Math.PI * i) / 24, j / 16)
      const n = normalOf(shape, p)
      points.push(addScaled(p, n, 0.02 * normal() + (next() < 0.1 ? 1.5 : 0)))
      normals.push(normalize(add(n, [0.03 * normal(), 0.03 * normal(), 0.03 * normal()])))
    }
  return { points, normals, weights: points.map(() => 0.5 + next()) }
}

for (const made of shapes) {
  const { kind } = made[0]
  for (const share of [1, 0.3])
    itUsually(share < 1)(`a measured ${kind} over ${share} of its round`, () => {
      const s = measured(made, share)
      const best = fitBest(s)
      expect(best.kind).toBe(kind)
      const kinds: ShapeKind[] = ['plane', 'cylinder', 'cone', 'sphere', 'ring']
      const f = fitKind(kind, s)
      const hold = { way: normalize([0.28, -0.52, 0.81] as Vec3), through: [4.01, -7, 2] as Vec3 }
      const held = (['along', 'square', 'about'] as const).flatMap((h) => {
        // A ball has no axis that could be held.
        if (kind === 'sphere') return []
        return [fitHeld(s, { shape: kind, hold: h, ...hold, snap: 'tenth' })]
      })
      expect(
        digest({
          best,
          kinds: kinds.map((k) => fitKind(k, s)),
          starts: kinds.map((k) => startOf(k, s)),
          extent: extentOf(f, s.points, 0.1),
          snapped: (['tenth', 'twentieth', 'sixtyfourth'] as const).map((n) => snapped(f, s, n)),
          held,
          together: fitTogether(
            [0.5, 1].map((part) => ({
              samples: thinned(s, 300 * part),
              held: fitHeld(s, { shape: kind, hold: 'free', snap: 'none' }),
            })),
          ),
          thin: thinned(s, 100).points.length,
        }),
      ).toMatchSnapshot()
    })
}

it('fits of regions of several patches, and the pattern that bores stand on', async () => {
  const mesh = await part('bored plate')
  const found = recognise(mesh)
  const walls = new Uint8Array(triangleCount(mesh))
  for (const r of found.regions) if (r.shape?.kind === 'cylinder') for (const t of r.triangles) walls[t] = 1
  const fits = ['free', 'along'].map((hold) =>
    fitRegion(mesh, walls, {
      shape: 'cylinder',
      hold: hold as 'free',
      way: [0, 0, 1],
      snap: 'tenth',
      each: true,
      equal: true,
    }),
  )
  const places: Vec3[] = [0, 1, 2, 3, 4].map((k) => [
    8 * Math.cos((2 * Math.PI * k) / 5),
    8 * Math.sin((2 * Math.PI * k) / 5),
    k,
  ])
  expect(
    digest({
      fits,
      circle: patternOf(places, [0, 0, 1], 0.01),
      row: patternOf(
        [0, 1, 2].map((k): Vec3 => [5 * k, 2 * k, 0]),
        [0, 0, 1],
        0.01,
      ),
      none: patternOf(
        [
          [0, 0, 0],
          [1, 0, 0],
          [5, 7, 0],
          [2, 9, 0],
        ],
        [0, 0, 1],
        0.01,
      ),
    }),
  ).toMatchSnapshot()
})
