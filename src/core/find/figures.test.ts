/** What is found on small parts, kept as figures: any change to picking and finding shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { meshBody, type ExactBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { buildTopology } from '@/core/mesh/topology'
import { corners, meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { middleOf, triangleNormals } from '@/core/mesh/triangle'
import { digest, outcome } from '@/testing/digest'
import { part, partNames } from '@/testing/parts'
import { runStep } from '@/testing/run-step'
import { boreAt, boreField, boreFromWall, equalBores, findBores, growFrom } from './bore'
import { creaseNear, creasesOf } from './crease'
import { fitCylinder } from './cylinder-fit'
import { exactFaceAt, trianglesOnFace } from './exact-face'
import { pointedBore } from './pointed-bore'
import { growPick, pickField, resolveRegion, type Pick } from './region'
import { growSurface, surfaceAround } from './smooth-surface'
import { snapAt } from './snap'
import { takenRows, creaseRow, rimPieces } from './taken-rows'
import { resolveTaken } from './taken'
import { planeOfTriangles, resolveTouch } from './touch'
import { touched } from './touched'
import { sweepViewLine } from './view-line'

const count = (flags: ArrayLike<number>) => Array.from(flags).reduce((s, f) => s + (f ? 1 : 0), 0)

describe.each(partNames)('on the %s', (name) => {
  it('bores, surfaces, creases and snaps', async () => {
    const mesh = await part(name)
    const n = triangleCount(mesh)
    const some = [0, 1, 2, 3, 4].map((k) => Math.floor((k * (n - 1)) / 4))
    const bores = boreField(mesh)
    const found = findBores(bores)
    const field = { mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) }
    const creases = creasesOf(mesh)
    const ray = { origin: [10, 12, 60] as Vec3, direction: [0, 0, -1] as Vec3 }
    expect(
      digest({
        bores: found,
        equal: found.slice(0, 1).map((b) => equalBores(bores, b).length),
        wall: some.map((t) => boreFromWall(bores, t)),
        at: some.map((t) => boreAt(bores, middleOf(mesh, t), t, 4)),
        grown: some.map((t) => growFrom(bores, t, 20, () => true, 50).length),
        pointed: pointedBore(found, ray, { distance: 50, triangle: 0, point: [10, 12, 8], own: true }),
        surfaces: some.map((t) => [surfaceAround(field, t).length, count(growSurface(field, t))]),
        creases,
        rows: some.map((t) => creaseRow(mesh, 3 * t)),
        near: some.map((t) => creaseNear(mesh, corners(mesh, t)[0])),
        snaps: some.flatMap((t) =>
          [0.2, 3].map((reach) => snapAt({ mesh, triangle: t, point: corners(mesh, t)[1], reach, bores: found })),
        ),
      }),
    ).toMatchSnapshot()
  })
  it('picks and touches', async () => {
    const mesh = await part(name)
    const n = triangleCount(mesh)
    const at = middleOf(mesh, Math.floor(n / 3))
    const field = pickField(mesh)
    const picks: Pick[] = [
      { pick: 'grow', mode: 'add', at, angle: 25 },
      { pick: 'grow', mode: 'add', at, follow: 'surface', angle: 20 },
      { pick: 'piece', mode: 'add', at },
      { pick: 'brush', mode: 'add', path: [at], radius: 4 },
      { pick: 'fault', mode: 'add', fault: 'rim' },
      { pick: 'fault', mode: 'add', fault: 'crossing' },
      { pick: 'small-pieces', mode: 'add', below: 0.5 },
      { pick: 'face', mode: 'add', at },
      {
        pick: 'loop',
        mode: 'add',
        toward: [0, 0, -1],
        loop: [
          [2, 2, 50],
          [30, 2, 50],
          [20, 22, 50],
        ],
        through: true,
      },
      {
        pick: 'loop',
        mode: 'add',
        eye: [10, 10, 90],
        toward: [0, 0, -1],
        loop: [
          [2, 2, 50],
          [12, 2, 50],
          [9, 14, 50],
        ],
        through: false,
      },
    ]
    const picked = picks.map((p) => outcome(() => count(resolveRegion(mesh, [p]))))
    const ring = outcome(() =>
      count(resolveRegion(mesh, [picks[0], { pick: 'grow-ring' }, { pick: 'shrink-ring' }, { pick: 'invert' }])),
    )
    const flags = growPick(field, Math.floor(n / 3), 30)
    const body = meshBody(mesh)
    const touches = (['point', 'plane', 'axis', 'line'] as const).map((as) =>
      outcome(() => resolveTouch(mesh, as === 'line' ? { as, at: [...at], to: [0, 0, 0] } : { as, at: [...at] })),
    )
    expect(
      digest({
        picked,
        ring,
        rim: rimPieces(mesh, flags),
        touches,
        body: (['plane', 'axis'] as const).map((as) => outcome(() => touched('m', body, { as, at: [...at] }))),
        taken: (['face', 'edge', 'axis'] as const).map((as) =>
          outcome(() => resolveTaken({ from: 'm', as, at } as never, body)),
        ),
        takenRows: (['face', 'edge'] as const).map((as) =>
          outcome(() => takenRows({ from: 'm', as, at } as never, body)),
        ),
        plane: planeOfTriangles(mesh, [0, 1, 2, 3]),
      }),
    ).toMatchSnapshot()
  })
})

it('faces of an exact body, by the place touched', async () => {
  const { bodies } = await runStep('build/cylinder', { name: 'b', radius: 8, height: 12, at: [0, 0, 0] }, {})
  const b = bodies.b as ExactBody
  const places: Vec3[] = [
    [8, 0, 6],
    [0, 0, 12],
    [1, 2, 0],
    [0, 30, 0],
  ]
  expect(
    digest({
      faces: places.map((p) => outcome(() => exactFaceAt(b, p))),
      triangles: [0, 5, 20].map((t) => trianglesOnFace(b, t)),
      taken: places.flatMap((at) =>
        (['face', 'axis', 'edge'] as const).map((as) => outcome(() => resolveTaken({ from: 'b', as, at } as never, b))),
      ),
      rows: places.map((at) => outcome(() => takenRows({ from: 'b', as: 'edge', at } as never, b))),
    }),
  ).toMatchSnapshot()
})

it('a cylinder through corners, from a start that is askew', () => {
  const points = Array.from({ length: 60 }, (_, i): Vec3 => {
    const a = 0.37 * i
    return [5 * Math.cos(a) + 0.1 * i, 5 * Math.sin(a), 0.3 * i]
  })
  const found = fitCylinder(points, [0.3, 0.1, 1])!
  expect(found.radius).toBeCloseTo(5, 0)
  expect(digest(found)).toMatchSnapshot()
})

it('a line drawn over a view is swept through all that lies there', async () => {
  const bounds = meshBounds(await part('bored plate'))
  const line: [number, number, number][] = [
    [0, 0, 30],
    [20, 0, 30],
    [20, 0, 30],
    [40, 0, 40],
    [45, 5, 40],
  ]
  const swept = (['line', 'outline', 'left-of-line'] as const).flatMap((how) =>
    [{}, { eye: [20, -80, 60] as [number, number, number] }].map((from) =>
      outcome(() => sweepViewLine({ ...from, toward: [0, 0.8, -0.6], line }, bounds, how)),
    ),
  )
  expect(digest(swept)).toMatchSnapshot()
})
