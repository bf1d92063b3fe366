/** What joins, deletions and features on meshes come to, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { meshBody } from '@/core/bodies/body'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { middleOf } from '@/core/mesh/triangle'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { part, type PartName } from '@/testing/parts'
import { runStep } from '@/testing/run-step'
import { box, cylinder, shifted } from '@/testing/shapes'
import { defaultChord, joinBodies, requireClosed } from './boolean'
import { csg } from './csg'
import { deleteRegion, facesAt } from './delete-region'
import { exactRests } from './exact-borders'
import { facetSolidOf, requireManifold } from './facet-solid'
import { roundRim } from './rim-feature'
import { takenRows } from '@/core/find/taken-rows'

const names: PartName[] = ['bored plate, coarse', 'chamfered block', 'ball', 'open box', 'two that cross']

describe.each(names)('%s', (name) => {
  it('joined with a bar, faces deleted, as a solid of facets', async () => {
    const mesh = await part(name)
    const bar = shifted(cylinder(3, 60, 20), 6, 5, -20)
    const operand = (n: string, m: typeof mesh) => ({ name: n, body: meshBody(m) })
    const all = []
    for (const kind of ['union', 'intersection', 'difference'] as const) {
      all.push(
        await outcomeOf(() =>
          csg(kind, [
            { name: 'a', mesh },
            { name: 'b', mesh: bar },
          ]),
        ),
      )
      all.push(
        await outcomeOf(() =>
          csg(
            kind,
            [
              { name: 'a', mesh },
              { name: 'b', mesh: bar },
            ],
            { mergeFlat: true },
          ),
        ),
      )
      all.push(
        await outcomeOf(() =>
          joinBodies(kind, [operand('a', mesh), operand('b', bar)] as never, { knowing: true }, quiet),
        ),
      )
    }
    const [union, intersection] = [all[0], all[3]] as { mesh?: typeof mesh }[]
    // What both have, and what either has, is what they have.
    if (union.mesh && intersection.mesh && name !== 'two that cross')
      expect(meshVolume(union.mesh) + meshVolume(intersection.mesh)).toBeCloseTo(meshVolume(mesh) + meshVolume(bar), 2)
    const flags = Uint8Array.from({ length: triangleCount(mesh) }, (_, t) => (t < 3 ? 1 : 0))
    const at = middleOf(mesh, 1)
    expect(
      digest([
        all,
        outcome(() => defaultChord([operand('a', mesh)] as never)),
        outcome(() => requireClosed('m', mesh)),
        outcome(() => requireManifold('m', buildTopology(mesh))),
        outcome(() => facesAt(mesh, [at])),
        outcome(() => deleteRegion('m', mesh, flags, quiet)),
        exactRests(meshBody(mesh)),
        await outcomeOf(() => facetSolidOf('m', mesh, { angle: 1, distance: 0.01, most: 500 }, quiet)),
        outcome(() => takenRows({ from: 'm', as: 'edge', at: [...at] }, meshBody(mesh)).map((r) => roundRim(mesh, r))),
      ]),
    ).toMatchSnapshot()
  })
})
it('a box and itself', async () => {
  const m = box(4, 4, 4, 1)
  const same = await csg('union', [
    { name: 'a', mesh: m },
    { name: 'b', mesh: m },
  ])
  expect(meshVolume(same.mesh)).toBeCloseTo(64, 9)
})

const features: [string, PartName | 'box', Record<string, unknown>][] = [
  ['an edge rounded', 'box', { radius: 1.5, edges: [{ at: [30, 10, 12] }] }],
  ['two edges that meet rounded', 'box', { radius: 2, edges: [{ at: [30, 10, 12] }, { at: [15, 20, 12] }] }],
  ['all edges of a face rounded', 'box', { radius: 1, faces: [{ at: [15, 10, 12] }] }],
  ['too much', 'box', { radius: 40, edges: [{ at: [30, 10, 12] }] }],
  ['a rim rounded', 'bored plate', { radius: 1, edges: [{ at: [13, 12, 8] }] }],
  ['a slanting edge rounded', 'chamfered block', { radius: 0.5, edges: [{ at: [0, -10, 10] }] }],
  ['an outer rim rounded', 'countersunk disc', { radius: 1, edges: [{ at: [18, -3, 10] }] }],
]
describe.each(features)('%s', (_what, name, set) => {
  it.each(['fillet', 'chamfer'])('as a %s', async (sort) => {
    const mesh = name === 'box' ? box(30, 20, 12, 2) : await part(name)
    const { radius, ...rest } = set
    const size = sort === 'fillet' ? { radius } : { distance: radius }
    const made = await outcomeOf(() => runStep(`build/${sort}`, { body: 'm', ...rest, ...size }, { m: mesh }))
    expect(digest(made)).toMatchSnapshot()
  })
})
