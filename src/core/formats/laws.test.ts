/** What is written is read again: any body, in every format that takes meshes. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { meshArea, meshBounds, meshVolume, triangleCount } from '@/core/mesh/tri-mesh'
import { anyBody, fewRuns } from '@/testing/small-bodies'
import { readMeshFile } from './read'
import { writeFile } from './write'

describe.each(['stl', 'obj', 'ply', 'off', '3mf'])('%s', (format) => {
  it('gives back the same triangles in the same place, and the same bytes when it is written again', () => {
    fc.assert(
      fc.property(anyBody, (mesh) => {
        const bytes = writeFile(format, [{ name: 'body', mesh }])
        const { parts } = readMeshFile(bytes, `body.${format}`)
        expect(parts).toHaveLength(1)
        const back = parts[0].mesh
        expect(triangleCount(back)).toBe(triangleCount(mesh))
        expect(meshVolume(back) / meshVolume(mesh)).toBeCloseTo(1, 6)
        expect(meshArea(back) / meshArea(mesh)).toBeCloseTo(1, 6)
        const [was, is] = [meshBounds(mesh), meshBounds(back)]
        for (const k of [0, 1, 2]) {
          expect(is.min[k]).toBe(was.min[k])
          expect(is.max[k]).toBe(was.max[k])
        }
        expect(writeFile(format, [{ name: 'body', mesh: back }])).toEqual(bytes)
      }),
      fewRuns(12),
    )
  })
})
