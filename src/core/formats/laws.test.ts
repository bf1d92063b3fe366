/** What is written is read again: any body, in every format that takes meshes. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { anyBody, fewRuns } from '@/testing/small-bodies'
import { readMeshFile } from './read'
import { formatByEnding, formatOf, formats } from './registry'
import { writeFile } from './write'

const meshFormats = formats.filter((f) => f.holds === 'meshes').map((f) => f.name)

describe.each(meshFormats)('%s', (format) => {
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

describe('a file', () => {
  it('is known by what it holds, whatever it is called', () => {
    fc.assert(
      fc.property(anyBody, fc.constantFrom(...meshFormats), (mesh, format) => {
        const bytes = writeFile(format, [{ name: 'body', mesh }])
        for (const name of ['x', 'x.stl', 'x.dxf', `x.${format}`]) expect(formatOf(bytes, name)?.name).toBe(format)
      }),
      fewRuns(10),
    )
  })
  it('is taken for what its ending says only where nothing else tells', () => {
    const doubtful = new TextEncoder().encode('hello')
    for (const f of formats)
      for (const e of f.endings) {
        expect(formatByEnding(`a.b.${e.toUpperCase()}`)).toBe(f)
        expect(formatOf(doubtful, `x.${e}`)).toBe(f)
      }
    expect(formatOf(doubtful, 'x.doc')).toBeNull()
    expect(formatByEnding('stl')).toBeNull()
  })
})
