import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { makeCylinder } from '@/core/kernels/exact/primitives'
import { sphere } from '@/testing/shapes'
import { decodeBody, encodeBody, factsOf } from '@/core/kinds/registry'
import { StepError } from '@/core/base/step-error'
import { hashBytes, hashText } from '@/core/base/hash'
import { packBytes } from './container'

describe('the container', () => {
  const mesh = {
    kind: 'mesh' as const,
    mesh: sphere(4, 2),
    tags: {
      names: ['a', 'ünder'],
      source: new Uint32Array(128).fill(1),
      face: Uint32Array.from({ length: 128 }, (_, i) => i),
    },
  }
  it('gives a mesh back with its tags, from any offset in a larger buffer', () => {
    const bytes = encodeBody(mesh)
    expect(decodeBody(bytes)).toEqual(mesh)
    const shifted = new Uint8Array(bytes.length + 3)
    shifted.set(bytes, 3)
    expect(decodeBody(shifted.subarray(3))).toEqual(mesh)
  })
  it('gives an exact body back and the same bytes each time', async () => {
    const pin = await makeCylinder(3, 9, [1, 2, 3], [0, 0, 1])
    const bytes = encodeBody(pin)
    expect(decodeBody(bytes)).toEqual(pin)
    expect(await hashBytes(encodeBody(decodeBody(bytes)))).toBe(await hashBytes(bytes))
    expect(factsOf(pin)).toMatchObject({ kind: 'solid', sound: true, badge: 'closed' })
    expect(factsOf(mesh)).toMatchObject({ kind: 'mesh', sound: true, figures: { triangles: 128 } })
  })
  it('refuses cut-off and foreign bytes in a sentence', () => {
    const bytes = encodeBody(mesh)
    const refused = (b: Uint8Array) => {
      try {
        decodeBody(b)
      } catch (error) {
        return error instanceof StepError && error.code === 'bad-body'
      }
      return false
    }
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), (n) => refused(bytes.slice(0, n))),
      { numRuns: 200, seed: 1 },
    )
    // A head that is damaged anywhere is a bad body or still the same one, never another failure.
    const headLength = new DataView(bytes.buffer).getUint32(4, true)
    fc.assert(
      fc.property(fc.nat(headLength - 1), fc.nat(255), (at, value) => {
        const hurt = bytes.slice()
        hurt[8 + at] = value
        try {
          decodeBody(hurt)
          return true
        } catch (error) {
          return error instanceof StepError && error.code === 'bad-body'
        }
      }),
      { numRuns: 500, seed: 2 },
    )
    expect(() => decodeBody(new Uint8Array(64))).toThrow(/not a Glue Bench body/)
  })
  it('SHA-256 of "abc" is that of FIPS 180-4, appendix B.1', async () => {
    expect(await hashText('abc')).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad')
  })
  it('reads an exact body of the first version, which knew no parts', async () => {
    const pin = await makeCylinder(3, 9, [1, 2, 3], [0, 0, 1])
    const display = Object.entries(pin.display).filter(([name]) => name !== 'edge')
    const first = packBytes({
      kind: 'solid',
      version: 1,
      head: { facts: pin.facts, tolerance: pin.tolerance },
      arrays: [
        ...display.map(([name, data]) => ({ name, data })),
        { name: 'brep', data: new TextEncoder().encode(pin.brep) },
      ],
    })
    const read = decodeBody(first) as typeof pin
    expect(read.brep).toBe(pin.brep)
    expect(read.parts.faces.map((f) => f.name)).toEqual(['face 1', 'face 2', 'face 3'])
    expect(read.display.edge.length).toBe(read.display.lines.length / 6)
    expect(read.parts.edges.length).toBeGreaterThan(0)
  })
})
