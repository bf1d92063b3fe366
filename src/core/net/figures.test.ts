/** What fields, cuts and nets of small bodies come to, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { buildTopology } from '@/core/mesh/topology'
import { quadFigures, trianglesOfQuads } from '@/core/mesh/quad-mesh'
import { meshVolume } from '@/core/mesh/measures'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { part, type PartName } from '@/testing/parts'
import { box } from '@/testing/shapes'
import { quadBlock } from '@/testing/quad-shapes'
import { creaseFlags, creaseVertices, longCreases } from './crease-lines'
import { cornerQuads } from './corner-quads'
import { crossField } from './cross-field'
import { cutOpen } from './cut/cut'
import { expectedNet } from './expected'
import { quadNet } from './quad-net'
import { Ground, relaxQuads } from './relax-quads'
import { roughSkin } from './rough-skin'
import { halfAt, halfOf, mirrored, mirroredAt } from './symmetry'
import { tidyQuads } from './tidy-quads'

const names: PartName[] = ['chamfered block', 'ball', 'open box']

describe.each(names)('%s', (name) => {
  it('creases, field and cuts', async () => {
    const mesh = await part(name)
    const topology = buildTopology(mesh)
    const creases = creaseFlags(mesh, topology, 35)
    const field = crossField(mesh, topology, { creases, bend: 1 } as never)
    expect(
      digest([
        creases,
        longCreases(mesh, topology, creases, 5),
        creaseVertices(mesh, topology, creases),
        field,
        outcome(() => cutOpen(mesh, topology, field)),
        outcome(() => cornerQuads(mesh, new Set())),
        [0, 1, 2].map((axis) => halfOf(mesh, axis, 30)),
        halfAt(mesh, { at: [1, 1, 1], normal: [0, 0.6, 0.8] }, 30),
      ]),
    ).toMatchSnapshot()
  })
  it('a net of it', async () => {
    const mesh = await part(name)
    const made = await quadNet(mesh, { count: 60, adaptive: 0.4, hardAngle: 35, working: 900 })
    const figures = quadFigures(made.net)
    if (figures.closed) {
      expect(meshVolume(trianglesOfQuads(made.net)) / meshVolume(mesh)).toBeGreaterThan(0.8)
      expect(meshVolume(trianglesOfQuads(made.net)) / meshVolume(mesh)).toBeLessThan(1.1)
    }
    const ground = new Ground(mesh)
    const kind = new Uint8Array(made.net.positions.length / 3)
    expect(
      digest([
        made,
        figures,
        outcome(() => relaxQuads(made.net, ground, { rounds: 3, kind, lines: new Set() } as never)),
        outcome(() => tidyQuads(made.net, new Set(), kind, { walk: true, wanted: 50 } as never)),
        mirrored(made.net, 0),
        mirroredAt(made.net, { at: [0, 0, 0], normal: [0, 0, 1] }),
      ]),
    ).toMatchSnapshot()
  })
})
it('what to expect of a net, and a rough skin', async () => {
  const sizes = [
    { area: 100, triangles: 50 },
    { area: 40_000, triangles: 200_000 },
  ]
  expect(
    digest([
      sizes.flatMap((s) =>
        [true, false].map((hard) => [expectedNet(s, { count: 500 }, hard), expectedNet(s, { edge: 2 }, hard)]),
      ),
      await outcomeOf(() => roughSkin(box(10, 10, 10, 20))),
      outcome(() => tidyQuads(quadBlock([9, 9, 9], [0, 0, 0], 3), new Set(), new Uint8Array(200))),
    ]),
  ).toMatchSnapshot()
})
