import { describe, expect, it } from '@jest/globals'
import { decode } from 'fast-png'
import { meshBody } from '@/core/bodies/body'
import { digest } from '@/testing/digest'
import { part } from '@/testing/parts'
import { box, sphere, shifted } from '@/testing/shapes'
import { drawPicture } from './picture'
import { growth } from '@/testing/processor-time'

const paper = [236, 233, 226]
const share = (png: Uint8Array) => {
  const { data, width, height, channels } = decode(png)
  let drawn = 0
  for (let i = 0; i < width * height; i++)
    if ([0, 1, 2].some((k) => Math.abs(data[channels * i + k] - paper[k]) > 6)) drawn++
  return drawn / (width * height)
}

describe('the picture of a job', () => {
  it('is a PNG (ISO/IEC 15948) of 480 x 300 with the bodies on it', () => {
    const png = drawPicture([meshBody(sphere(4, 3))])
    expect(Array.from(png.subarray(0, 8))).toEqual([137, 80, 78, 71, 13, 10, 26, 10])
    expect(decode(png)).toMatchObject({ width: 480, height: 300 })
    // A ball fills a disc of 0.86 of the height: pi / 4 * (0.86 * 300)^2 of 480 x 300.
    expect(share(png)).toBeCloseTo(((Math.PI / 4) * (0.86 * 300) ** 2) / (480 * 300), 2)
  })
  it('is blank paper without bodies, and shows two bodies in two colours', () => {
    expect(share(drawPicture([]))).toBe(0)
    const { data } = decode(drawPicture([meshBody(box(5, 5, 5)), meshBody(shifted(box(5, 5, 5), 20, 0, 0))]))
    const reds = new Set(Array.from({ length: 480 * 300 }, (_, i) => data[3 * i] > data[3 * i + 2] + 20))
    expect(reds.size).toBe(2)
  })
  it('takes time in proportion to thin triangles, not to their square', () => {
    const disc = (n: number) => {
      const positions = new Float32Array(3 * (n + 1))
      const triangles = new Uint32Array(3 * n)
      for (let i = 0; i < n; i++) {
        positions.set([50 * Math.cos((2 * Math.PI * i) / n), 50 * Math.sin((2 * Math.PI * i) / n), 0], 3 * i + 3)
        triangles.set([0, i + 1, ((i + 1) % n) + 1], 3 * i)
      }
      return meshBody({ positions, triangles })
    }
    const discs = new Map([4000, 32_000].map((n) => [n, disc(n)]))
    expect(growth((n) => drawPicture([discs.get(n)!]), 4000, 32_000)).toBeLessThan(24)
  })
})

it('pictures of small parts are as they were, dot for dot', async () => {
  for (const name of ['bored plate', 'two that cross', 'terrain'] as const) {
    const { data } = decode(drawPicture([meshBody(await part(name)), meshBody(shifted(sphere(3, 2), 12, 4, 9))]))
    expect(digest(Array.from(data))).toMatchSnapshot()
  }
})
