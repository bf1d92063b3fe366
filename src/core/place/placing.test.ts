import { describe, expect, it } from '@jest/globals'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import { quiet } from '@/core/base/work'
import { resolveRegion } from '@/core/find/region'
import { meshFrom } from '@/core/mesh/tri-mesh'

const block = { id: 'b', kind: 'build/block', set: { name: 'plate', size: [30, 20, 6], at: [5, 0, 2] } }
const after = async (kind: string, set: object) => {
  const r = await evaluate(
    parseRecipe({
      format: 'glue-bench/recipe',
      version: 1,
      steps: [block, { id: 's', kind, set: { body: 'plate', ...set } }],
    }),
    { fileHash: () => Promise.resolve(null), store: new MemoryStore(), work: quiet },
  )
  if (r.steps[1].error) throw new Error(r.steps[1].error.message)
  return r.steps[1].facts as { size: number[]; min: number[] }
}

describe('setting down an exact block', () => {
  it.each([
    ['set-down/rest', {}, [30, 20, 6], [-10, -10, 0]],
    ['set-down/centre', { z: true }, [30, 20, 6], [-15, -10, -3]],
    ['set-down/move', { by: [1, 2, 3] }, [30, 20, 6], [-9, -8, 5]],
    ['set-down/turn', { axis: 'z', angle: 90 }, [20, 30, 6], [-5, -15, 2]],
    ['set-down/mirror', { across: 'x' }, [30, 20, 6], [-20, -10, 2]],
    ['set-down/swap-up', { up: 'y' }, [30, 6, 20], [-10, -8, -10]],
    ['set-down/size', { how: 'inch-to-mm' }, [762, 508, 152.4], [-254, -254, 50.8]],
    ['set-down/size', { how: 'size', size: 60 }, [60, 40, 12], [-20, -20, 4]],
  ])('%s %j', async (kind, set, size, min) => {
    const f = await after(kind, set)
    f.size.forEach((v, k) => expect(v).toBeCloseTo(size[k], 3))
    f.min.forEach((v, k) => expect(v).toBeCloseTo(min[k], 3))
  })
  it('lays a picked face on the floor', async () => {
    const f = await after('set-down/face-to-floor', { region: [{ pick: 'grow', at: [20, 0, 5], angle: 5 }] })
    expect(f.size[2]).toBeCloseTo(30, 3)
    expect(f.min[2]).toBeCloseTo(0, 4)
  })
})

describe('regions', () => {
  const roof = meshFrom(
    [0, 0, 0, 10, 0, 0, 0, 10, 0, 10, 10, 0, 0, 20, 5, 10, 20, 5],
    [0, 1, 2, 1, 3, 2, 2, 3, 4, 3, 5, 4],
  )
  const count = (r: Parameters<typeof resolveRegion>[1]) => resolveRegion(roof, r).reduce((s, v) => s + v, 0)
  it('grow up to an angle, invert, and take rings', () => {
    expect(count([{ pick: 'grow', mode: 'add', at: [3, 3, 0], angle: 10 }])).toBe(2)
    expect(count([{ pick: 'grow', mode: 'add', at: [3, 3, 0], angle: 40 }])).toBe(4)
    expect(count([{ pick: 'grow', mode: 'add', at: [3, 3, 0], angle: 10 }, { pick: 'grow-ring' }])).toBe(4)
  })
  it('say when nothing is left of them', () => {
    expect(() => resolveRegion(roof, [])).toThrow(/Nothing is picked/)
    expect(() => resolveRegion(roof, [{ pick: 'brush', mode: 'add', path: [[99, 99, 99]], radius: 1 }])).toThrow(
      /not there any more/,
    )
  })
})
