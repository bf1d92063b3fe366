import { describe, expect, it } from '@jest/globals'
import { meshVolume } from '@/core/mesh/measures'
import { sphere } from '@/testing/shapes'
import { booleanOf, manifoldKernel } from './manifold'
import { isSpoilt, isTrap } from './trap'

describe('traps', () => {
  it('are told from refusals', () => {
    for (const e of [
      new WebAssembly.RuntimeError('unreachable'),
      new RangeError('x'),
      123456,
      new Error('Aborted(OOM)'),
      new Error('std::bad_alloc'),
    ])
      expect(isTrap(e)).toBe(true)
    for (const e of [new Error('Not manifold'), 'text', null, { code: 'NotManifold' }]) expect(isTrap(e)).toBe(false)
  })
  it('give the instance up: the sentence says memory, and the next boolean runs in a new one', async () => {
    const bodies = [0, 1].map((i) => ({ name: `s${i}`, mesh: sphere(10, 3) }))
    const first = await manifoldKernel()
    const union = first.Manifold.union
    Object.assign(first.Manifold, {
      union: () => {
        throw new WebAssembly.RuntimeError('memory access out of bounds')
      },
    })
    await expect(booleanOf('union', bodies)).rejects.toMatchObject({ code: 'out-of-memory' })
    expect(isSpoilt()).toBe(true)
    expect(await manifoldKernel()).not.toBe(first)
    expect(meshVolume((await booleanOf('union', bodies)).mesh)).toBeCloseTo(meshVolume(bodies[0].mesh), 1)
    Object.assign(first.Manifold, { union })
  })
  it('a trap while a body is taken in is no open skin', async () => {
    const kernel = await manifoldKernel()
    const { Manifold } = kernel
    Object.assign(kernel, {
      Manifold: Object.assign(
        function () {
          throw new WebAssembly.RuntimeError('unreachable')
        },
        { reserveIDs: () => 0 },
      ),
    })
    const bodies = [0, 1].map((i) => ({ name: `s${i}`, mesh: sphere(10, 2) }))
    await expect(booleanOf('union', bodies)).rejects.toMatchObject({ code: 'out-of-memory' })
    Object.assign(kernel, { Manifold })
  })
})
