import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { plateMesh } from '@/core/scan/shapes'
import { cutPolygon, Knife } from './polygon'
import { readMeshFile } from './read'
import { writeStlAscii } from './stl'
import { writeFile } from './write'

const plate = plateMesh(31.3, 20.7, 4.1, 3, 5)
const exact = meshVolume(plate)
const bytesOf = (text: string) => new TextEncoder().encode(text)
const vertexSet = (m: TriMesh) =>
  new Set(Array.from({ length: m.positions.length / 3 }, (_, v) => m.positions.slice(3 * v, 3 * v + 3).join()))

describe('readers and writers', () => {
  it.each(['stl', 'obj', 'ply', 'off', '3mf'])('%s comes back with every vertex and the same volume', (format) => {
    const read = readMeshFile(writeFile(format, [{ name: 'plate', mesh: plate }]), 'wrong.name')
    expect(read.format).toBe(format)
    expect(read.parts).toHaveLength(1)
    expect(vertexSet(read.parts[0].mesh)).toEqual(vertexSet(plate))
    expect(meshVolume(read.parts[0].mesh)).toBeCloseTo(exact, 6)
  })

  it('tells a binary STL that opens with "solid" from an ASCII one', () => {
    const binary = writeFile('stl', [{ name: 'p', mesh: plate }])
    binary.set(bytesOf('solid but binary'))
    expect(readMeshFile(binary, 'x.stl').parts[0].mesh.triangles.length).toBe(plate.triangles.length)
    expect(readMeshFile(writeStlAscii(plate, 'p'), 'x.bin').parts[0].name).toBe('p')
  })

  it('reads big-endian PLY as it reads little-endian', () => {
    const little = writeFile('ply', [{ name: 'p', mesh: plate }])
    const head = new TextDecoder().decode(little).indexOf('end_header\n') + 11
    const big = new Uint8Array(little)
    const view = new DataView(big.buffer),
      from = new DataView(little.buffer)
    const n = plate.positions.length
    for (let i = 0; i < n; i++) view.setFloat32(head + 4 * i, from.getFloat32(head + 4 * i, true), false)
    for (let t = 0; t < plate.triangles.length / 3; t++)
      for (let c = 0; c < 3; c++) {
        const o = head + 4 * n + 13 * t + 1 + 4 * c
        view.setInt32(o, from.getInt32(o, true), false)
      }
    const text = new TextDecoder('latin1').decode(big.slice(0, head)).replace('little', 'big')
    const out = new Uint8Array(text.length + big.length - head)
    out.set(bytesOf(text))
    out.set(big.subarray(head), text.length)
    expect(readMeshFile(out, 'p.ply').parts[0].mesh.triangles).toEqual(plate.triangles)
  })

  it('keeps OBJ groups as parts, cuts polygons, and counts from the end', () => {
    const read = readMeshFile(
      bytesOf(
        'g a\nv 0 0 0\nv 2 0 0\nv 2 2 0\nv 1 .5 0\nv 0 2 0\nf 1 2 3 4 5\ng b\nv 0 0 1\nv 1 0 1\nv 0 1 1\nf -3//1 -2//1 -1//1\n',
      ),
      'x.obj',
    )
    expect(read.parts.map((p) => [p.name, p.mesh.triangles.length / 3])).toEqual([
      ['a', 3],
      ['b', 1],
    ])
  })

  it('cuts a concave polygon into its own area', () => {
    const p = [
      [0, 0, 0],
      [4, 0, 0],
      [4, 4, 0],
      [2, 1, 0],
      [0, 4, 0],
    ] as const
    const cut = cutPolygon(new Knife(), [...p])
    let area = 0
    for (let i = 0; i < cut.length; i += 3) {
      const [a, b, c] = [p[cut[i]], p[cut[i + 1]], p[cut[i + 2]]]
      area += Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2
    }
    expect(area).toBeCloseTo(10, 12)
  })

  it('reads 3MF units and components with transforms', () => {
    const mesh =
      '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="2" v2="0" v3="3"/></triangles></mesh>'
    const model = `<?xml version="1.0"?><model unit="inch"><resources><object id="1" type="model" name="tet">${mesh}</object><object id="2" type="model"><components><component objectid="1"/><component objectid="1" transform="2 0 0 0 2 0 0 0 2 10 20 30"/></components></object></resources><build><item objectid="2" transform="1 0 0 0 1 0 0 0 1 1 0 0"/></build></model>`
    const read = readMeshFile(zipSync({ '3D/3dmodel.model': strToU8(model) }), 'x.3mf')
    expect(read.unit).toBe('inch')
    expect(read.parts.map((p) => meshVolume(p.mesh))).toEqual([expect.closeTo(1 / 6, 6), expect.closeTo(8 / 6, 5)])
    expect(Array.from(read.parts[1].mesh.positions.slice(0, 3))).toEqual([11, 20, 30])
  })

  it('reads the colours of 3MF objects: base materials, colour groups; and writes them so', () => {
    const mesh =
      '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="2" v2="0" v3="3"/></triangles></mesh>'
    const groups =
      '<basematerials id="5"><base name="a" displaycolor="#FF8000"/><base name="b" displaycolor="#0080FFCC"/></basematerials><m:colorgroup id="6"><m:color color="#20A040"/></m:colorgroup>'
    const object = (id: number, more: string) => `<object id="${id}" type="model"${more}>${mesh}</object>`
    const model = `<?xml version="1.0"?><model unit="millimeter" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02"><resources>${groups}${object(1, ' pid="5" pindex="1"')}${object(2, ' pid="6"')}${object(3, '')}${object(4, ' pid="9" pindex="3"')}</resources><build>${[1, 2, 3, 4].map((i) => `<item objectid="${i}"/>`).join('')}</build></model>`
    const read = readMeshFile(zipSync({ '3D/3dmodel.model': strToU8(model) }), 'x.3mf')
    const colours = ['#0080ff', '#20a040', undefined, undefined]
    expect(read.parts.map((p) => p.colour)).toEqual(colours)
    expect(readMeshFile(writeFile('3mf', read.parts), 'y.3mf').parts.map((p) => p.colour)).toEqual(colours)
  })

  it('refuses XML entities and packages that blow up', () => {
    const entity = '<?xml version="1.0"?><!DOCTYPE m [<!ENTITY a "b">]><model unit="inch"><build/></model>'
    expect(() => readMeshFile(zipSync({ '3D/3dmodel.model': strToU8(entity) }), 'x.3mf')).toThrow(/entities/)
    expect(() =>
      readMeshFile(zipSync({ '3D/3dmodel.model': new Uint8Array(60 << 20) }, { level: 1 }), 'x.3mf'),
    ).toThrow(/would unpack to/)
  })

  it.each([
    ['solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 zero\n', 'x.stl', /line 4/],
    ['OFF\n3 1 0\n0 0 0\n1 0 0\n', 'x.off', /after 2 of 3 points/],
    ['v 0 0 0\nf 1 2 3\n', 'x.obj', /point 2 of 1 \(line 2\)/],
    ['ply\nformat ascii 1.0\nelement vertex 9\n', 'x.ply', /head does not end/],
    ['hello', 'x.txt', /none of STL/],
  ])('says where a damaged file is wrong: %j', (text, name, words) =>
    expect(() => readMeshFile(bytesOf(text), name)).toThrow(words),
  )

  it('says at which byte a binary STL is cut off', () => {
    const whole = writeFile('stl', [{ name: 'p', mesh: plate }])
    expect(() => readMeshFile(whole.slice(0, 500), 'x.stl')).toThrow(/byte 500/)
  })

  const samples = ['stl', 'obj', 'ply', 'off', '3mf'].map((f) =>
    writeFile(f, [{ name: 'p', mesh: plateMesh(5, 4, 3, 1, 2) }]),
  )
  it('survives mutated and truncated files: a result or a sentence', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 4 }),
        fc.array(fc.tuple(fc.nat(1 << 20), fc.nat(255)), { maxLength: 12 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (which, changes, keep) => {
          const bytes = samples[which].slice(0, Math.ceil(samples[which].length * keep))
          for (const [at, value] of changes) if (bytes.length) bytes[at % bytes.length] = value
          try {
            const { parts } = readMeshFile(bytes, 'x')
            for (const p of parts) expect(p.mesh.positions.length).toBeLessThan(10 * bytes.length + 1000)
          } catch (e) {
            expect(e).toBeInstanceOf(StepError)
          }
        },
      ),
      { numRuns: 3000, seed: 4 },
    )
  })
})
