/** What moved, thickened, hollowed and new skins of small bodies come to, kept as figures: any change to them shows here, and is looked at. */
import { expect } from '@jest/globals'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { itUsually } from '@/testing/long'
import { part, type PartName } from '@/testing/parts'
import { movedSkin } from './moved/moved-skin'
import { hollow, laidBody, offsetEdge, offsetMesh, requireSound } from './offset'
import { parallelSkin } from './parallel-skin'
import { defaultEdge, estimateReskin, reskin } from './reskin'
import { thicken } from './thicken'
import { quiet } from '@/core/base/work'

const flags = (m: TriMesh) => Uint8Array.from({ length: triangleCount(m) }, (_, t) => (t % 3 ? 1 : 0))
const closed: PartName[] = ['bored plate, coarse', 'chamfered block', 'ball', 'two that cross']
/** It takes as long as the others together. */
const usual = (name: PartName) => name !== 'bored plate, coarse'

for (const name of closed)
  itUsually(usual(name))(`closed bodies ${name}: moved in and out, hollowed`, async () => {
    const mesh = await part(name)
    expect(
      digest([
        ...(['sharp', 'round'] as const).flatMap((corners) =>
          [0.8, -0.5].map((by) => outcome(() => movedSkin(mesh, by, { corners }))),
        ),
        outcome(() => movedSkin(mesh, 0.6, { corners: 'sharp', loose: true })),
        ...(['sharp', 'round'] as const).map((corners) => outcome(() => offsetMesh(mesh, 1, { edge: 4, corners }))),
        outcome(() => offsetMesh(mesh, -0.7, { edge: 4, corners: 'round' })),
        outcome(() => requireSound('m', mesh, quiet)),
        offsetEdge(mesh, 1),
        await outcomeOf(() => hollow('m', mesh, 1.2, 1.5, [{ at: [0, 0, 0], diameter: 2 }])),
      ]),
    ).toMatchSnapshot()
  })

for (const name of [...closed, 'open box', 'terrain'] as PartName[])
  itUsually(usual(name))(`any ${name}: thickened, drawn anew`, async () => {
    const mesh = await part(name)
    const edge = defaultEdge(mesh) * 8
    expect(
      digest([
        outcome(() => parallelSkin(mesh, flags(mesh), 0.5, 2)),
        ...(['outward', 'inward', 'both'] as const).map((to) => outcome(() => thicken(mesh, null, 1.2, to, 2))),
        outcome(() => thicken(mesh, flags(mesh), 0.8, 'outward', 2)),
        outcome(() => laidBody(mesh, 1, 2.5, quiet)),
        ...(['close', 'leave'] as const).map((holes) => outcome(() => reskin(mesh, { edge, gap: 1, holes }))),
        [edge, estimateReskin(1000, 0.5)],
      ]),
    ).toMatchSnapshot()
  })
