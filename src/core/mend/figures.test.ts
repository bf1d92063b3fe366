/** What each mend makes of small and of damaged meshes, kept as figures: any change to them shows here, and is looked at. */
import { expect, it } from '@jest/globals'
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { assembly, blade, ragged, spiky } from '@/testing/hard'
import { itUsually } from '@/testing/long'
import { part, type PartName } from '@/testing/parts'
import { awkward, box, shaken, sphere, without } from '@/testing/shapes'
import { bridgeGap, stitchRows } from './bridge-gap'
import { closeHoles } from './close-holes'
import { closePart } from './close-part'
import { collapseEdges } from './collapse/collapse'
import { cutAndRefill, growTriangles } from './cut-and-refill'
import { fairVertices } from './fair'
import { smoothFolds } from './folds'
import { keepSound } from './keep-sound'
import { mendAll } from './mend-all'
import { plinth } from './plinth'
import { refine } from './refine'
import { resolveCrossings } from './resolve-crossings'
import { sharpVertices, simplify } from './simplify'
import { removeDegenerate } from './slivers'
import { smooth } from './smooth'
import { smoothRims } from './smooth-rim'
import { clearSpecks } from './specks'
import { splitNonManifold } from './split-non-manifold'
import { survey, surveyWords } from './survey'
import { takeApart } from './take-apart'
import { crossingClusters } from './tangles'
import { cleanUp, tidy } from './tidy'
import { flatTriangulation } from './triangulate-rim'
import { faceShells, uniteShells } from './unite-shells'
import { untangle } from './untangle'
import { widenHoles } from './widen-hole'

const small: Record<string, () => Promise<TriMesh> | TriMesh> = {
  ...Object.fromEntries(
    (['open box', 'two that cross', 'bored plate, coarse', 'terrain', 'ball'] as PartName[]).map((n) => [
      n,
      () => part(n),
    ]),
  ),
  'ragged ball': () => ragged(sphere(10, 3), 4),
  'a holed, shaken ball': () =>
    shaken(
      without(sphere(10, 3), (x, y, z) => z > 7 || (x > 6 && y > 2)),
      0.05,
      2,
    ),
  blade: () => blade(12, 8),
  spiky: () => spiky(2),
  assembly: () => assembly(4),
  // Those of which each mend takes long are tried elsewhere.
  ...Object.fromEntries(
    Object.entries(awkward())
      .filter(([n]) => !/5000|metres|not numbers/.test(n))
      .map(([n, m]) => [n, () => m]),
  ),
}

const flat = (m: TriMesh, share: number) =>
  Uint8Array.from({ length: triangleCount(m) }, (_, t) => (t < share * triangleCount(m) ? 1 : 0))

/** In each run some of each sort, all of them in the long run. */
const usual = /ball|crosses|open|doubled|nested|vertex|assembly/

for (const name of Object.keys(small)) {
  const run = itUsually(usual.test(name))
  run(`${name} holes closed, rims moved, cut out and filled again`, async () => {
    const mesh = await small[name]()
    const rims = findRims(mesh, buildTopology(mesh))
    const at = vertex(mesh, 0)
    const far = vertex(mesh, Math.floor(mesh.positions.length / 6))
    const picked: Vec3[] = [at]
    expect(
      digest([
        ...(['flat', 'smooth', 'curvature'] as const).map((how) => outcome(() => closeHoles(mesh, { how }))),
        outcome(() => closeHoles(mesh, { how: 'flat', longest: 20, scraps: true })),
        outcome(() => closeHoles(mesh, { how: 'smooth', picked })),
        outcome(() => closePart(mesh, at, far, { how: 'flat' })),
        outcome(() => closePart(mesh, at, far, { how: 'smooth', other: true })),
        outcome(() => bridgeGap(mesh, at, far, { width: 2 })),
        outcome(() => bridgeGap(mesh, at, far, { flat: true })),
        outcome(() => smoothRims(mesh, 3, picked)),
        outcome(() => widenHoles(mesh, 1, picked)),
        outcome(() => cutAndRefill(mesh, flat(mesh, 0.05), { how: 'smooth' })),
        outcome(() => growTriangles(mesh, flat(mesh, 0.02), 2)),
        rims.slice(0, 2).map((r) => outcome(() => plinth(mesh, r, () => true))),
      ]),
    ).toMatchSnapshot()
  })
  run(`${name} smoothed, refined, simplified`, async () => {
    const mesh = await small[name]()
    const region = flat(mesh, 0.4)
    const simple = (await outcomeOf(() => simplify(mesh, { triangles: Math.floor(triangleCount(mesh) / 2) }))) as {
      mesh: unknown
    }
    expect(
      digest([
        ...(['even', 'fair', 'keep-sharp'] as const).flatMap((how) => [
          outcome(() => smooth(mesh, { how, strength: 0.5, passes: 3, rim: 'pinned' })),
          outcome(() => smooth(mesh, { how, strength: 0.7, passes: 2, rim: 'free', region })),
        ]),
        ...([1, 2, 3] as const).map((order) => outcome(() => fairVertices(mesh, [0, 3, 5], order))),
        outcome(() => refine(mesh, { edge: 4, rounds: 2, most: 6000 })),
        simple.mesh ?? simple,
        outcome(() => collapseEdges(mesh, { triangles: Math.floor(triangleCount(mesh) / 3) } as never)),
        outcome(() => sharpVertices(mesh, 40)),
      ]),
    ).toMatchSnapshot()
  })
  run(`${name} tidied, taken apart, united, untangled, mended`, async () => {
    const mesh = await small[name]()
    const s = survey(mesh)
    const pairs = findSelfCrossings(mesh)
    const all = outcome(() => mendAll(mesh, { speckShare: 0.02, fill: 'flat' })) as {
      mesh?: TriMesh
      after?: { selfCrossings: number }
    }
    if (all.mesh && all.after?.selfCrossings === 0) expect(findSelfCrossings(all.mesh)).toHaveLength(0)
    expect(
      digest([
        [surveyWords(s), s.kinds],
        outcome(() => tidy(mesh)),
        outcome(() => cleanUp(mesh)),
        outcome(() => splitNonManifold(mesh)),
        outcome(() => removeDegenerate(mesh)),
        outcome(() => clearSpecks(mesh, { share: 0.1, closedShare: 0.03 })),
        outcome(() => clearSpecks(mesh, { smallerThan: 15 })),
        outcome(() => takeApart(mesh, 0.01)),
        outcome(() => faceShells(mesh)),
        outcome(() => uniteShells(mesh)),
        outcome(() => smoothFolds(mesh)),
        outcome(() => crossingClusters(mesh, pairs)),
        outcome(() => resolveCrossings(mesh, { rounds: 2 })),
        outcome(() => untangle(mesh, { rounds: 2 })),
        outcome(() => keepSound(mesh)),
        all,
        outcome(() =>
          mendAll(mesh, { speckShare: 0.02, fill: 'smooth', closeBorder: true, keepApart: true, weldWithin: 0.01 }),
        ),
      ]),
    ).toMatchSnapshot()
  })
}

it('rows stitched, and a flat rim cut into triangles', () => {
  const row = (n: number, z: number): Vec3[] => Array.from({ length: n }, (_, i) => [i * 1.3, 0.2 * i * i, z])
  const rim: Vec3[] = [
    [0, 0, 1],
    [5, 0, 1],
    [5, 4, 1],
    [3, 1.5, 1],
    [0, 4, 1],
  ]
  const cut = flatTriangulation(rim)!
  expect(cut).toHaveLength(9)
  expect(
    digest([stitchRows(row(4, 0), row(7, 2)), cut, flatTriangulation(rim.map(([x, y], i) => [x, y, i]))]),
  ).toMatchSnapshot()
})
it('a hole of a box comes back as it was', () => {
  const whole = box(8, 8, 8, 4)
  const open = without(whole, (x, y, z) => z > 7.9 && x > 2 && x < 6 && y > 2 && y < 6)
  expect(meshVolume(closeHoles(open, { how: 'flat' }).mesh)).toBeCloseTo(512, 9)
})
