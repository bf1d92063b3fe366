/** What pieces of skins come to as heights and sheets, kept as figures: any change to fits of surfaces shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { Vec3 } from '@/core/math/vec'
import { triangleCount, vertex, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { digest, outcome } from '@/testing/digest'
import { part } from '@/testing/parts'
import { sheet, shifted } from '@/testing/shapes'
import { fitCells, fitHeight } from './fit-height'
import { flatten } from './flatten'
import { groundOver, heightAt, normalOfHeight, offHeight, splineOfHeight } from './height'
import { skinRegion } from './skin-region'

const pieces: Record<string, () => Promise<TriMesh> | TriMesh> = {
  waves: () => sheet(30, 14, (x, y) => 2 * Math.sin(0.3 * x) + 0.02 * y * y),
  'waves askew': () =>
    shifted(
      sheet(24, 10, (x, y) => 0.05 * (x - 9) ** 2 - 0.2 * y),
      5,
      -40,
      7,
    ),
  terrain: () => part('terrain'),
}

describe.each(Object.keys(pieces))('%s', (name) => {
  it('as a height over a plane, laid flat, and as a sheet', async () => {
    const mesh = await pieces[name]()
    const places = Array.from({ length: vertexCount(mesh) }, (_, v) => vertex(mesh, v))
    const weighed = places.map((at, i) => ({ at, weight: 0.5 + (i % 3) }))
    const { ground, sides } = groundOver(places, [0, 0, 1], [1, 0.1, 0], 0.5) as never as {
      ground: Parameters<typeof fitCells>[1]
      sides: [number, number]
    }
    const height = fitCells(weighed, ground, sides, [4, 3], 0.01)
    const all = Array.from({ length: triangleCount(mesh) }, (_, t) => t)
    const some: Vec3[] = [places[3], [10, 5, 3], [20, 9, -2]]
    expect(
      digest({
        ground: [ground, sides],
        cells: height && [
          height,
          splineOfHeight(height),
          some.map((p) => [offHeight(height, p), normalOfHeight(height, p)]),
          [0.1, 7].map((u) => heightAt(height, u, 4)),
        ],
        grown: outcome(() => fitHeight(weighed, ground, sides, 0.05, 8)),
        flat: flatten({ positions: Float64Array.from(mesh.positions), triangles: mesh.triangles }),
        sheets: [
          { by: 'best', detail: { within: 0.1 }, smooth: 0.3, extend: [0, 0, 0, 0] } as const,
          { by: 'best', detail: { cells: 6 }, smooth: 0, extend: [1, 2, 0, 3] } as const,
        ].map((choice) => outcome(() => skinRegion(mesh, all, choice))),
      }),
    ).toMatchSnapshot()
  })
})
