/** Bodies by their kind: colours stay with what can have one, and each body is of one kind only. */
import { describe, expect, it } from '@jest/globals'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { box } from '@/testing/shapes'
import { quadBlock } from '@/testing/quad-shapes'
import { cageBody, colourOf, inColour, isCage, isDatum, isMesh, isNet, isOutline, meshBody, netBody } from './body'

const block = await makeBlock([2, 3, 4], [0, 0, 0], [0, 0, 1], [1, 0, 0])
const mesh = meshBody(box(1, 2, 3))
const net = netBody(quadBlock([4, 4, 4], [0, 0, 0], 2))

describe('colours', () => {
  it.each([
    ['mesh', mesh],
    ['solid', block],
    ['sheet', { ...block, kind: 'sheet' as const }],
  ])('are given to a %s once, and the first one stays', (_, body) => {
    expect(colourOf(body)).toBeUndefined()
    const red = inColour(body, '#aa0000')
    expect(colourOf(red)).toBe('#aa0000')
    expect(colourOf(inColour(red, '#00aa00'))).toBe('#aa0000')
    expect({ ...red, colour: undefined }).toEqual({ ...body, colour: undefined })
  })
  it('are not given where there is none, nor to what cannot have one', () => {
    expect(inColour(mesh, undefined)).toBe(mesh)
    expect(inColour(mesh, '')).toBe(mesh)
    expect(inColour(net, '#aa0000')).toBe(net)
    expect(colourOf(undefined)).toBeUndefined()
    expect(colourOf({ ...net, colour: '#aa0000' } as typeof net)).toBeUndefined()
  })
})

it('each body is of one kind', () => {
  const cage = cageBody({ ...quadBlock([4, 4, 4], [0, 0, 0], 2), creases: new Map() } as never)
  const tests = [isMesh, isNet, isCage, isOutline, isDatum]
  for (const [body, own] of [
    [mesh, isMesh],
    [net, isNet],
    [cage, isCage],
  ] as const)
    expect(tests.filter((t) => t(body))).toEqual([own])
  expect(tests.some((t) => t(block))).toBe(false)
})
