import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { makeCylinder } from '@/core/kernels/exact/open-cascade'
import { sphere } from '@/testing/shapes'
import { decodeBody, encodeBody } from './container'
import { hashBytes, hashText } from '@/core/base/hash'
import { drawPicture } from '@/core/report/picture'
import { summarize } from '@/core/kinds/summary'

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
    expect(summarize(pin)).toMatchObject({ kind: 'solid', closed: true })
    expect(summarize(mesh)).toMatchObject({ kind: 'mesh', closed: true })
  })
  it('refuses cut-off and foreign bytes in a sentence', () => {
    const bytes = encodeBody(mesh)
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), (n) => {
        expect(() => decodeBody(bytes.slice(0, n))).toThrow()
      }),
      { numRuns: 200, seed: 1 },
    )
    expect(() => decodeBody(new Uint8Array(64))).toThrow(/not a Glue Bench body/)
  })
  it('SHA-256 of "abc" is that of FIPS 180-4, appendix B.1', async () => {
    expect(await hashText('abc')).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad')
  })
  it('draws a picture that is a PNG (ISO/IEC 15948) and not blank', () => {
    const png = drawPicture([mesh])
    expect(Array.from(png.subarray(0, 8))).toEqual([137, 80, 78, 71, 13, 10, 26, 10])
    expect(png.length).toBeGreaterThan(1500)
  })
})
