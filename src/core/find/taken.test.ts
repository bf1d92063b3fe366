/** Places and directions taken from bodies of every kind. */
import { describe, expect, it } from '@jest/globals'
import { meshBody, type DatumBody, type MeshBody, type OutlineBody } from '@/core/bodies/body'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { makeTorus } from '@/testing/exact-shapes'
import { drawingPlane, emptyDrawing } from '@/core/outline/drawing'
import { rotation, scaling } from '@/core/math/affine'
import { boundsOf, decodeBody, encodeBody, moveBody } from '@/core/kinds/registry'
import { normalize, type Vec3 } from '@/core/math/vec'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import { dependentsOf } from '@/core/recipe/dependents'
import { quiet } from '@/core/base/work'
import { box } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { creaseNear } from './crease'
import { isTaken, resolveTaken } from './taken'
import { takenRows } from './taken-rows'

const axis = normalize([1, 2, 2])
const near = (a: readonly number[], b: readonly number[], digits = 10) =>
  a.forEach((v, k) => expect(v).toBeCloseTo(b[k], digits))

describe('taken from exact bodies', () => {
  it('a tilted cylinder tells its axis and its faces to the last digit', async () => {
    const pin = await makeCylinder(4, 10, [1, 2, 3], axis, 'pin')
    const wall = resolveTaken({ from: 'pin', as: 'axis', at: [5, 2, 3], name: 'pin/wall' }, pin)
    near(wall.way!, axis)
    expect(wall.diameter).toBe(8)
    // The middle of the wall lies on the axis, half-way up.
    near(wall.at, [1 + 5 * axis[0], 2 + 5 * axis[1], 3 + 5 * axis[2]], 5)
    const top = resolveTaken({ from: 'pin', as: 'face', at: [9, 9, 9], name: 'pin/top' }, pin)
    near(top.way!, axis)
    const height = [0, 1, 2].reduce((s, k) => s + (top.at[k] - [1, 2, 3][k]) * axis[k], 0)
    expect(height).toBeCloseTo(10, 5)
    const base = resolveTaken({ from: 'pin', as: 'face', at: [1, 2, 3], name: 'pin/base' }, pin)
    near(
      base.way!,
      axis.map((v) => -v),
    )
    const rim = resolveTaken({ from: 'pin', as: 'edge', at: [1, 2, 3] }, pin)
    near(rim.at, [1, 2, 3])
    expect(rim.diameter).toBe(8)
    expect(() => resolveTaken({ from: 'pin', as: 'face', at: [1, 2, 3], name: 'pin/wall' }, pin)).toThrow(/not flat/)
    expect(() => resolveTaken({ from: 'pin' }, pin)).toThrow(/which face, axis, edge or corner/)
  })
  it('a ring tells its axis and middle; a block its edges and corners', async () => {
    const ring = await makeTorus(10, 3, [1, 2, 3], axis)
    const found = resolveTaken({ from: 'ring', as: 'axis', at: [11, 2, 3] }, ring)
    near(found.at, [1, 2, 3], 8)
    expect(Math.abs(found.way!.reduce((s, v, k) => s + v * axis[k], 0))).toBeCloseTo(1, 10)
    const block = await makeBlock([10, 20, 30], [0, 0, 0], [0, 0, 1], [1, 0, 0])
    const edge = resolveTaken({ from: 'b', as: 'edge', at: [10, 9, 30] }, block)
    near(edge.at, [10, 10, 30])
    expect(edge.way!.map(Math.abs)).toEqual([0, 1, 0])
    near(resolveTaken({ from: 'b', as: 'corner', at: [9, 19, 28] }, block).at, [10, 20, 30])
    expect(takenRows({ from: 'b', as: 'face', at: [5, 5, 30] }, block)).toHaveLength(4)
    expect(takenRows({ from: 'b', as: 'edge', at: [10, 9, 30] }, block)[0].places).toHaveLength(2)
  })
})

describe('taken from meshes, datums and outlines', () => {
  const cube = meshBody(box(20, 20, 20))
  it('a mesh gives its flat faces, its sharp edges and its corners', () => {
    const face = resolveTaken({ from: 'c', as: 'face', at: [5, 5, 20] }, cube)
    near(face.way!, [0, 0, 1])
    near(face.at, [5, 5, 20])
    const edge = resolveTaken({ from: 'c', as: 'edge', at: [20, 6, 19] }, cube)
    near(edge.at, [20, 10, 20])
    expect(edge.way!.map(Math.abs)).toEqual([0, 1, 0])
    near(resolveTaken({ from: 'c', as: 'corner', at: [18, 1, 1] }, cube).at, [20, 0, 0])
    expect(takenRows({ from: 'c', as: 'face', at: [5, 5, 20] }, cube)).toHaveLength(4)
    // Its row ends where the edge bends by a right angle.
    expect(takenRows({ from: 'c', as: 'edge', at: [20, 6, 20] }, cube)[0]).toMatchObject({ closed: false })
  })
  it('the sharp edge of a smooth mesh is none; its bits in a line are one', async () => {
    const { sphere } = await import('@/testing/shapes')
    expect(creaseNear(sphere(10, 3), [0, 0, 10])).toBeNull()
  })
  it('a datum tells itself, an outline its plane or a curve', () => {
    const datum: DatumBody = { kind: 'datum', datum: 'axis', at: [1, 2, 3], direction: axis, drawn: 10 }
    expect(resolveTaken({ from: 'a' }, datum)).toEqual({ at: [1, 2, 3], way: axis })
    expect(resolveTaken({ from: 'a' }, { ...datum, datum: 'point' } as DatumBody).way).toBeNull()
    const outline: OutlineBody = {
      kind: 'outline',
      plane: drawingPlane([0, 0, 5], [0, 0, 1]),
      drawing: {
        ...emptyDrawing,
        points: [
          [0, 0],
          [8, 6],
        ],
        curves: [{ kind: 'line', from: 0, to: 1 }],
      },
      reference: [],
    }
    near(resolveTaken({ from: 'o' }, outline).way!, [0, 0, 1])
    const line = resolveTaken({ from: 'o', as: 'edge', at: [4, 4, 5] }, outline)
    near(line.way!.map(Math.abs), [0.8, 0.6, 0], 6)
  })
})

describe('a mesh that an exact body cut', () => {
  it('still knows the axis and diameter of its bore, after a move and from its bytes', async () => {
    const way = normalize([0.2, 0.1, 1])
    const pin = await makeCylinder(1.7, 60, [10, 10, -20], way, 'pin')
    const cut = await runStep('build/difference', { from: 'cube', take: ['pin'] }, { cube: box(20, 20, 20), pin })
    const packed = decodeBody(encodeBody(cut.bodies.cube!))
    const wall = { from: 'cube', as: 'axis', at: [17.7, 13, 10] } as const
    const bore = resolveTaken({ ...wall, at: [...wall.at] }, packed)
    near(bore.way!, way)
    expect(bore.diameter).toBeCloseTo(3.4, 6)
    const turned = await moveBody(packed, rotation([0, 0, 1], 90))
    const after = resolveTaken({ ...wall, at: [-13, 17.7, 10] }, turned)
    near(after.way!, [-way[1], way[0], way[2]])
    // Stretched one way its bore is no cylinder any more: then it is fitted to the skin.
    const stretched = await moveBody(packed, scaling(1, 1, 2))
    expect((stretched as MeshBody).tags!.exact).toEqual([null, null])
    // Measured it is the exact wall, not its facets.
    const measured = await runStep(
      'prove/measure',
      { body: 'c', what: 'diameter', from: { as: 'axis', at: [17.7, 13, 10] } },
      { c: packed },
    )
    expect(measured.facts.value).toBeCloseTo(3.4, 8)
    // A second cut keeps what the first one knew.
    const again = await runStep(
      'build/difference',
      { from: 'cube', take: ['other'] },
      {
        cube: packed,
        other: await makeCylinder(1, 60, [3, 3, -20], [0, 0, 1], 'other'),
      },
    )
    const both = again.bodies.cube!
    near(resolveTaken({ ...wall, at: [...wall.at] }, both).way!, way)
    expect(resolveTaken({ ...wall, at: [4, 3, 10] }, both).diameter).toBeCloseTo(2, 6)
  })
})

describe('settings that take from bodies', () => {
  const recipe = (height: number) =>
    parseRecipe({
      format: 'glue-bench/recipe',
      version: 1,
      steps: [
        { id: 'a', kind: 'build/block', set: { name: 'foot', size: [20, 20, height] } },
        {
          id: 'b',
          kind: 'build/cylinder',
          set: {
            name: 'pin',
            radius: 2,
            height: 5,
            at: { from: 'foot', as: 'face', at: [3, 4, height], name: 'foot/top' },
            axis: { from: 'foot', as: 'face', at: [3, 4, height], name: 'foot/top' },
          },
        },
      ],
    })
  it('follow what they were taken from, and hang on it', async () => {
    expect(dependentsOf(recipe(10), 0)).toEqual(['b'])
    const tops: number[] = []
    for (const height of [10, 17]) {
      const store = new MemoryStore()
      const done = await evaluate(recipe(height), { fileHash: () => Promise.resolve(null), store, work: quiet })
      expect(done.steps.map((s) => s.error?.message)).toEqual([undefined, undefined])
      tops.push(boundsOf(decodeBody(await store.bytes(done.bodies.get('pin')!))).max[2])
    }
    expect(tops[0]).toBeCloseTo(15, 5)
    expect(tops[1]).toBeCloseTo(22, 5)
  })
  it('holes stand on datum points, beside places by numbers', async () => {
    const cube = box(20, 20, 20)
    const spot: DatumBody = { kind: 'datum', datum: 'point', at: [5, 5, 20], direction: [0, 0, 1], drawn: 5 }
    const at = [{ from: 'spot' }, [15, 15, 20]]
    const r = await runStep('build/hole', { body: 'c', at, diameter: 2 }, { c: cube, spot })
    expect(r.facts.holes).toBe(2)
    expect(8000 - (r.facts.volume as number)).toBeCloseTo(40 * Math.PI, 0)
  })
  it('a corner tells no direction; what is no reference is refused in words', async () => {
    const cube = box(20, 20, 20)
    const set = { name: 'pin', radius: 2, height: 5, axis: { from: 'c', as: 'corner', at: [0, 0, 0] as Vec3 } }
    await expect(runStep('build/cylinder', set, { c: cube })).rejects.toThrow(/tells no direction/)
    expect(isTaken({ as: 'face' })).toBe(false)
    expect(() =>
      parseRecipe({
        format: 'glue-bench/recipe',
        version: 1,
        steps: [{ id: 'x', kind: 'build/cylinder', set: { name: 'p', radius: 1, height: 1, at: { of: 'c' } } }],
      }),
    ).toThrow(/three numbers, or a body to take it from/)
  })
})

describe('rows of sections', () => {
  const bar = box(40, 10, 10)
  const run = async (set: Record<string, unknown>, bodies: Record<string, OutlineBody> = {}) =>
    runStep('convert/section-line', { bodies: ['bar'], ...set }, { bar: meshBody(bar), ...bodies })
  it('evenly across: as much before the first as between', async () => {
    const r = await run({ normal: [1, 0, 0], count: 4, row: 'even' })
    const at = Object.values(r.bodies).map((b) => (b as OutlineBody).plane.at[0])
    near(at, [5, 15, 25, 35])
    expect(r.facts.area).toBeCloseTo(400, 6)
  })
  it('along a curve, square to it; turned about an axis', async () => {
    const path: OutlineBody = {
      kind: 'outline',
      plane: drawingPlane([0, 0, 5], [0, 0, 1], [1, 0, 0]),
      drawing: {
        ...emptyDrawing,
        points: [
          [10, 5],
          [30, 5],
        ],
        curves: [{ kind: 'line', from: 0, to: 1 }],
      },
      reference: [],
    }
    const r = await run({ count: 3, row: 'along', curve: 'path' }, { path })
    const planes = Object.values(r.bodies).map((b) => (b as OutlineBody).plane)
    near(
      planes.map((p) => p.at[0]),
      [10, 20, 30],
    )
    near(planes[1].normal, [1, 0, 0])
    const t = await run({
      at: [20, 5, 5],
      normal: [0, 1, 0],
      count: 2,
      row: 'turned',
      about: [20, 5, 5],
      axis: [0, 0, 1],
      turn: 90,
    })
    // First the long section 40 x 10, then the short one 10 x 10.
    expect(t.facts.area).toBeCloseTo(500, 6)
    await expect(run({ count: 2, row: 'along' })).rejects.toThrow(/No curve is chosen/)
  })
})

describe('edges taken over by a drawing', () => {
  it('lie behind it as reference, and follow the body', async () => {
    const circle = { points: [[0, 0]], curves: [{ kind: 'circle', centre: 0, radius: 1 }] }
    for (const radius of [4, 6]) {
      const pin = await makeCylinder(radius, 10, [1, 2, 3], [0, 0, 1], 'pin')
      const r = await runStep(
        'build/outline',
        { drawing: circle, over: [{ from: 'pin', as: 'face', at: [1, 2, 13], name: 'pin/top' }] },
        { pin },
      )
      const { reference } = r.bodies.outline as OutlineBody
      expect(reference).toHaveLength(1)
      expect(reference[0].closed).toBe(true)
      for (let i = 0; i < reference[0].places.length; i += 2)
        expect(Math.hypot(reference[0].places[i] - 1, reference[0].places[i + 1] - 2)).toBeCloseTo(radius, 5)
    }
  })
})
