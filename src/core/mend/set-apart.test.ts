/** What is told of a mended skin holds for the file it is written to. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import type { MeshBody } from '@/core/bodies/body'
import { readMeshFile } from '@/core/formats/read'
import { writeStlBinary } from '@/core/formats/stl'
import { checkUp } from '@/core/mesh/check-up'
import { sharedAsWritten } from '@/core/mesh/as-written'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { anyMove, fewRuns } from '@/testing/small-bodies'
import { box, cylinder, shifted } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { setApart } from './set-apart'

/** As an STL file gives it back. */
const readBack = (mesh: TriMesh): TriMesh => readMeshFile(writeStlBinary(mesh), 'a.stl').parts[0].mesh
/** Blocks that share an edge, and three round one edge. */
const two = concatMeshes([box(10, 10, 10), shifted(box(10, 10, 10), 10, 10, 0)])
const row = concatMeshes([
  box(10, 10, 10, 2),
  shifted(box(10, 10, 10, 2), 10, 0, 10),
  shifted(box(10, 10, 10, 2), 20, 0, 0),
])

describe('skins that meet in an edge', () => {
  it('are sound in themselves, and not once they are written', () => {
    expect(checkUp(two).facts.nonManifoldEdges).toBe(0)
    expect(sharedAsWritten(two).edges).toHaveLength(1)
    expect(checkUp(readBack(two)).facts.nonManifoldEdges).toBe(1)
    expect(sharedAsWritten(cylinder(3, 9, 24)).edges).toEqual([])
  })
  it('are set apart by a hair, wherever they lie, so that the file is sound too', () => {
    fc.assert(
      fc.property(anyMove, fc.constantFrom(two, row), (move, mesh) => {
        const given = transformMesh(mesh, move)
        const before = sharedAsWritten(given).edges.length
        const apart = setApart(given)
        expect(apart.left).toBe(0)
        if (before) expect(apart.moved).toBeGreaterThan(0)
        const { facts } = checkUp(readBack(apart.mesh))
        expect(facts).toMatchObject({ nonManifoldEdges: 0, openEdges: 0, selfCrossings: 0 })
        expect(Math.abs(meshVolume(apart.mesh) / meshVolume(given) - 1)).toBeLessThan(1e-5)
        let most = 0
        given.positions.forEach((v, i) => (most = Math.max(most, Math.abs(v - apart.mesh.positions[i]))))
        expect(most).toBeLessThan(1e-3)
      }),
      fewRuns(20),
    )
  })
  it('by Mend all and by Split non-manifold; other steps warn of them', async () => {
    const together = readBack(two)
    for (const [kind, mesh] of [
      ['mend/all', together],
      ['mend/all', two],
      ['mend/split-non-manifold', together],
    ] as const) {
      const r = await runStep(kind, { body: 'm' }, { m: mesh })
      expect(checkUp(readBack((r.bodies.m as MeshBody).mesh)).facts).toMatchObject({
        nonManifoldEdges: 0,
        openEdges: 0,
      })
      expect(r.warnings ?? []).toEqual([])
    }
    const moved = await runStep('set-down/move', { body: 'm', by: [1, 0, 0] }, { m: two })
    expect(moved.warnings!.join(' ')).toMatch(/"m" has 1 edge that more than two triangles share once it is read back/)
  })
})
