/** Results that are not sound say so: conversions of folded nets, bodies that do not add up. */
import { describe, expect, it } from '@jest/globals'
import { cageBody, isMesh, meshBody, netBody, type Body, type ExactBody } from '@/core/bodies/body'
import { cageBlock } from '@/core/cage/shapes'
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { findPieces, buildTopology } from '@/core/mesh/topology'
import { checkUp } from '@/core/mesh/check-up'
import { itLong } from '@/testing/long'
import { box, shaken, shifted, sphere, without } from '@/testing/shapes'
import { reportError } from '@/core/base/step-error'
import { drawingPlane } from '@/core/outline/drawing'
import { runStep } from '@/testing/run-step'

/** The net of a block's cage. */
const blockNet = (n: number): QuadMesh => {
  const { positions, quads } = cageBlock([30, 20, 10], [n, n, n], false)
  return { positions: Float32Array.from(positions), quads }
}

describe('Smooth solid', () => {
  it('of a sound net is sound', async () => {
    const r = await runStep('convert/smooth-solid', { body: 'n', name: 's' }, { n: netBody(blockNet(4)) })
    expect(r.facts).toMatchObject({ foldedEdges: 0, crossingFaces: 0, valid: true })
    expect(r.warnings).toEqual([])
  })
  it('of a net with a corner drawn over its neighbours is not, and says how many edges fold', async () => {
    const net = blockNet(4)
    // A corner in the middle of the top moved far over the edges of its neighbours.
    const [x, y, z] = [0, 0, 10]
    const top = Array.from({ length: net.positions.length / 3 }, (_, v) => v).find(
      (v) => net.positions[3 * v + 2] === z && net.positions[3 * v] === x && net.positions[3 * v + 1] === y,
    )!
    net.positions.set([13, 0, z], 3 * top)
    const r = await runStep('convert/smooth-solid', { body: 'n', name: 's' }, { n: netBody(net) })
    const solid = r.bodies.s as ExactBody
    expect(solid.facts.valid).toBe(false)
    expect(r.said).toMatch(/not sound/)
    expect(r.warnings!.join(' ')).toMatch(/the body is not sound/)
  })
})

describe('cages', () => {
  it('whose surface passes through itself say so, whichever step made them', async () => {
    const cage = cageBlock([30, 20, 10], [4, 4, 2], false)
    const positions = cage.positions.slice()
    // The whole right end pushed through to the left of the other one.
    for (let v = 0; v < positions.length / 3; v++) if (positions[3 * v] > 14) positions[3 * v] = -25
    const r = await runStep('set-down/move', { body: 'c', by: [1, 0, 0] }, { c: cageBody({ ...cage, positions }) })
    expect(r.warnings!.join(' ')).toMatch(/"c" has a surface that crosses itself, on \d+ faces/)
    const sound = await runStep('set-down/move', { body: 'c', by: [1, 0, 0] }, { c: cageBody(cage) })
    expect(sound.warnings ?? []).toEqual([])
  })
})

describe('joins and cuts', () => {
  const block = async (name: string, size: number[], at: number[]) =>
    (await runStep('build/block', { name, size, at }, {})).bodies[name] as ExactBody
  const code = (run: Promise<unknown>) =>
    run.then(
      () => null,
      (e: unknown) => reportError(e).code,
    )
  // A slot right through a bar, and the same of triangles.
  const bars = async (): Promise<[string, Body, Body][]> => [
    ['exact', await block('a', [30, 10, 10], [0, 0, 0]), await block('b', [4, 20, 20], [3, 0, -5])],
    ['mesh', meshBody(box(30, 10, 10)), meshBody(shifted(box(4, 20, 20), 8, -5, -5))],
  ]
  it('that part a body say how many loose pieces there are, and leave them out on wish', async () => {
    for (const [, a, b] of await bars()) {
      const cut = await runStep('build/difference', { from: 'a', take: ['b'] }, { a, b })
      expect(cut.facts).toMatchObject({ loose: 1 })
      expect(cut.warnings!.join(' ')).toMatch(/The cut leaves 1 loose piece that nothing holds/)
      expect(cut.facts.volume).toBeCloseTo(2600, 2)
      const one = await runStep('build/difference', { from: 'a', take: ['b'], dropLoose: true }, { a, b })
      expect(one.warnings!.join(' ')).toMatch(/1 loose piece left out/)
      const left = one.bodies.a!
      // Whichever side is larger stays: the longer stretch of the bar.
      expect(one.facts.volume as number).toBeGreaterThan(1300)
      expect(one.facts.volume as number).toBeLessThan(2600)
      expect(
        isMesh(left) ? findPieces(left.mesh, buildTopology(left.mesh)).count : (left as ExactBody).facts.pieces,
      ).toBe(1)
    }
  })
  it('that only hollow a body leave nothing loose', async () => {
    const hollow = await runStep(
      'build/difference',
      { from: 'a', take: ['b'] },
      { a: meshBody(box(30, 10, 10)), b: meshBody(shifted(box(4, 4, 4), 8, 3, 3)) },
    )
    expect(hollow.facts.loose).toBeUndefined()
    expect(hollow.facts.volume).toBeCloseTo(2936, 3)
  })
  it('that change nothing are refused', async () => {
    const [a, inside, far] = [
      await block('a', [30, 10, 10], [0, 0, 0]),
      await block('b', [4, 4, 4], [0, 0, 2]),
      await block('b', [4, 4, 4], [90, 0, 0]),
    ]
    expect(await code(runStep('build/union', { bodies: ['a', 'b'] }, { a, b: inside }))).toBe('nothing-changed')
    expect(await code(runStep('build/difference', { from: 'a', take: ['b'] }, { a, b: far }))).toBe('nothing-changed')
    expect(await code(runStep('build/union', { bodies: ['b', 'a'] }, { a, b: inside }))).toBeNull()
  })
  it('letters cut right through say that their islands are loose', async () => {
    const plate = await block('p', [60, 20, 2], [0, 0, 0])
    const set = { text: 'OA', size: 10, at: [0, 0, 2], height: 5, result: 'cut', with: 'p' }
    const cut = await runStep('build/lettering', set, { p: plate })
    expect(cut.facts.loose).toBe(2)
    const whole = await runStep('build/lettering', { ...set, dropLoose: true }, { p: plate })
    expect((whole.bodies.p as ExactBody).facts.pieces).toBe(1)
    expect(whole.facts.volume as number).toBeLessThan(cut.facts.volume as number)
  })
})

describe('Simplify', () => {
  const reaches = async (ball: TriMesh) => {
    const r = await runStep('mend/simplify', { body: 'm', to: 'share', share: 5 }, { m: ball })
    const asked = (0.05 * ball.triangles.length) / 3
    expect(Math.abs((r.facts.triangles as number) / asked - 1)).toBeLessThan(0.05)
    const body = r.bodies.m!
    expect(isMesh(body) && checkUp(body.mesh).facts).toMatchObject({
      openEdges: 0,
      nonManifoldEdges: 0,
      selfCrossings: 0,
    })
  }
  it('of a noisy skin reaches the count it is asked for, sound', () => reaches(shaken(sphere(20, 6), 0.05)))
  itLong('of half a million noisy triangles, too', () => reaches(shaken(sphere(20, 8), 0.03)))
  it('within a distance that nothing allows says so', async () => {
    const r = await runStep(
      'mend/simplify',
      { body: 'm', to: 'deviation', deviation: 1e-5 },
      { m: shaken(sphere(20, 3), 2) },
    )
    expect(r.facts.triangles).toBe(512)
    expect(r.warnings!.join(' ')).toMatch(/No triangle could be taken out within that distance/)
  })
})

describe('a pick off the body', () => {
  it('is refused with the distance, on solids and on meshes', async () => {
    const b = (await runStep('build/block', { name: 'b', size: [30, 20, 10], at: [0, 0, 0] }, {})).bodies.b as ExactBody
    const far = { as: 'plane', at: [0, 0, 60] }
    for (const body of [b, meshBody(box(30, 20, 10))])
      await expect(
        runStep('build/plane', { name: 'p', by: 'face', body: 'b', face: far }, { b: body }),
      ).rejects.toThrow(/nearest .* (50 mm|\d+\.\d mm)/)
  })
})

describe('outlines and letters beyond all patience', () => {
  /** A star of n points, each joined to the k-th after it: n (k - 1) crossings. */
  const star = (n: number, k: number): Body => {
    const points = Array.from({ length: n }, (_, i): [number, number] => {
      const a = (2 * Math.PI * i * k) / n
      return [50 * Math.cos(a), 50 * Math.sin(a)]
    })
    const curves = points.map((_, i) => ({ kind: 'line' as const, from: i, to: (i + 1) % n }))
    return {
      kind: 'outline',
      plane: drawingPlane([0, 0, 0], [0, 0, 1]),
      drawing: { points, curves },
      reference: [],
    } as Body
  }
  it('with hundreds of crossings become one solid of the star’s area', async () => {
    const r = await runStep('build/extrude', { outline: 'o', distance: 5 }, { o: star(31, 8) })
    // The outline of {n/k}: n times R² sin(pi / n) cos(pi k / n) / cos(pi (k - 1) / n) (Coxeter, Regular Polytopes, 2.8).
    const [n, k] = [31, 8]
    const area = (n * 2500 * Math.sin(Math.PI / n) * Math.cos((Math.PI * k) / n)) / Math.cos((Math.PI * (k - 1)) / n)
    expect((r.facts.volume as number) / (5 * area)).toBeCloseTo(1, 6)
    expect((r.bodies.extrusion as ExactBody).facts.pieces).toBe(1)
  })
  it('with too many are refused in a sentence, at once', async () => {
    await expect(runStep('build/extrude', { outline: 'o', distance: 5 }, { o: star(101, 40) })).rejects.toThrow(
      /falls into .* areas .* is the most at once/,
    )
    await expect(
      runStep('build/lettering', { text: 'Abcdefg hi '.repeat(200).slice(0, 2000), size: 5, name: 'l' }, {}),
    ).rejects.toThrow(/These letters have .* curves/)
  })
})

describe('Mend all', () => {
  it('says which borders it closed where it was told to, and that nothing was to mend where it was not', async () => {
    const half = without(sphere(20, 4), (_x, _y, z) => z < 0)
    const two = meshBody(concatMeshes([half, shifted(half, 60, 0, 0)]))
    const open = await runStep('mend/all', { body: 'm' }, { m: two })
    const left = open.facts.bordersLeft as unknown as { at: number[] }[]
    expect(left).toHaveLength(2)
    expect(open.said).toContain('2 borders left open')
    const one = await runStep('mend/all', { body: 'm', closeAt: [left[0].at] }, { m: two })
    expect(one.said).toMatch(/borders 2 → 1 · 1 border left open/)
    expect(one.facts.bordersLeft).toHaveLength(1)
  })
})
