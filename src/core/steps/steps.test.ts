/** Steps as recipes call them: settings, figures, names, warnings. */
import { describe, expect, it } from '@jest/globals'
import { isMesh } from '@/core/bodies/body'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { Stopped } from '@/core/base/step-error'
import { meshOf, runStep } from '@/testing/run-step'
import { box, cylinder, inward, shaken, sheet, shifted, sphere, without } from '@/testing/shapes'

const grow = (at: [number, number, number], angle = 10) => [{ pick: 'grow', at, angle }]
const cube = box(10, 10, 10, 4)

describe('mend', () => {
  it('remove, flip and heal a picked face', async () => {
    const removed = await runStep('mend/remove', { body: 'm', region: grow([5, 5, 10]) }, { m: cube })
    expect(removed.facts.removed).toBe(32)
    expect(meshArea(meshOf(removed, 'm'))).toBeCloseTo(500, 3)
    const flipped = await runStep('mend/flip', { body: 'm', region: grow([5, 5, 10]) }, { m: cube })
    expect(checkUp(meshOf(flipped, 'm')).facts.flippedEdges).toBe(16)
    const healed = await runStep('mend/heal', { body: 'm', region: grow([5, 5, 10]), how: 'flat' }, { m: cube })
    expect(meshVolume(meshOf(healed, 'm'))).toBeCloseTo(1000, 3)
    expect(healed.bodies.m).toMatchObject({ tags: { names: ['m', 'patch'] } })
  })
  it('picks by fault and by size of piece drive a step', async () => {
    const many = concatMeshes([cube, shifted(sphere(0.4, 1), 20, 0, 0), shifted(sphere(0.3, 1), 25, 0, 0)])
    expect(
      (await runStep('mend/remove', { body: 'm', region: [{ pick: 'small-pieces', below: 0.05 }] }, { m: many })).facts
        .removed,
    ).toBe(64)
    const open = without(cube, (x) => x > 9.9)
    expect(
      (await runStep('mend/remove', { body: 'm', region: [{ pick: 'fault', fault: 'rim' }] }, { m: open })).facts
        .removed,
    ).toBe(16)
    await expect(
      runStep('mend/remove', { body: 'm', region: [{ pick: 'fault', fault: 'fold' }] }, { m: cube }),
    ).rejects.toThrow(/not there any more/)
  })
  it('close holes tells how many, how long, and keeps what was there', async () => {
    const open = without(cube, (x, _y, z) => z > 9.9 || x < 0.1)
    const r = await runStep('mend/close-holes', { body: 'm', how: 'flat' }, { m: open })
    expect(r.facts).toMatchObject({ closed: 1, left: 0 })
    expect(r.facts.longestEdgeMm).toBeCloseTo(60, 3)
    const none = await runStep('mend/close-holes', { body: 'm' }, { m: cube })
    expect(none).toMatchObject({ said: 'no hole to close' })
    await expect(runStep('mend/close-holes', { body: 'm', which: 'picked' }, { m: open })).rejects.toThrow(
      /No rim is picked/,
    )
  })
  it('smooth needs an area where not the whole is meant', async () => {
    await expect(runStep('mend/smooth', { body: 'm', whole: false }, { m: shaken(cube, 0.1) })).rejects.toThrow(
      /Nothing is picked/,
    )
    expect(
      (await runStep('mend/smooth', { body: 'm', passes: 3 }, { m: shaken(cube, 0.1) })).facts.movedMm,
    ).toBeGreaterThan(0.01)
  })
  it('simplify tells the deviation and when kept rims allow no less', async () => {
    const r = await runStep('mend/simplify', { body: 'm', to: 'count', count: 200 }, { m: sphere(10, 5) })
    expect(r.facts.triangles).toBeLessThanOrEqual(200)
    expect(r.facts.deviationMaxMm).toBeGreaterThan(0.1)
    const rim = await runStep(
      'mend/simplify',
      { body: 'm', to: 'count', count: 4 },
      { m: without(sheet(20, 20), (x, y) => Math.hypot(x - 10, y - 10) < 6) },
    )
    expect(rim.warnings?.join()).toMatch(/allow no less/)
  })
  it('refine and reskin refuse what would take for ever', async () => {
    await expect(runStep('mend/refine', { body: 'm', edge: 0.005 }, { m: cube })).rejects.toThrow(
      /triangles; .* are the most/,
    )
    await expect(runStep('mend/reskin', { body: 'm', edge: 0.005 }, { m: cube })).rejects.toThrow(
      /triangles; .* are the most/,
    )
  })
  it("take apart and merge are each other's way back", async () => {
    const two = concatMeshes([cube, shifted(sphere(2, 2), 30, 0, 0)])
    const apart = await runStep('mend/take-apart', { body: 'm' }, { m: two })
    expect(Object.keys(apart.bodies)).toEqual(['m', 'm 1', 'm 2'])
    expect(apart.bodies.m).toBeNull()
    const back = await runStep(
      'mend/merge',
      { bodies: ['a', 'b'] },
      { a: meshOf(apart, 'm 1'), b: meshOf(apart, 'm 2') },
    )
    expect(meshVolume(meshOf(back, 'a'))).toBeCloseTo(meshVolume(two), 4)
    expect(back.bodies.b).toBeNull()
    expect((await runStep('mend/take-apart', { body: 'm' }, { m: cube })).said).toBe('one piece already')
  })
  it('trim keeps one side or names both; split by an exact body is told apart', async () => {
    const both = await runStep('mend/trim', { body: 'm', at: [0, 0, 4], axis: [0, 0, 1], keep: 'both' }, { m: cube })
    expect(Object.keys(both.bodies)).toEqual(['m', 'm B'])
    expect(meshVolume(meshOf(both, 'm B'))).toBeCloseTo(400, 3)
    await expect(runStep('mend/trim', { body: 'm', by: 'line' }, { m: cube })).rejects.toThrow(/No line is drawn/)
    const pin = await makeCylinder(2, 30, [5, 5, -5], [0, 0, 1])
    const split = await runStep('mend/split', { body: 'm', by: 'pin', other: 'core' }, { m: cube, pin })
    expect(meshVolume(meshOf(split, 'core')) / (Math.PI * 4 * 10)).toBeCloseTo(1, 2)
    expect(meshVolume(meshOf(split, 'm')) + meshVolume(meshOf(split, 'core'))).toBeCloseTo(1000, 2)
  })
  it('close part, bridge gap, widen hole and smooth rim say what they did', async () => {
    const open = without(sphere(10, 5), (_x, _y, z) => z > 7)
    expect(
      (await runStep('mend/close-part', { body: 'm', from: [7, 0, 7], to: [-7, 0, 7] }, { m: open })).said,
    ).toMatch(/mm across/)
    expect(
      (
        await runStep(
          'mend/bridge-gap',
          { body: 'm', from: [7, 0, 7], to: [-7, 0, 7], how: 'strip', width: 3 },
          { m: open },
        )
      ).facts.gapMm,
    ).toBeGreaterThan(13)
    const wide = await runStep('mend/widen-hole', { body: 'm', rings: 2 }, { m: open })
    expect(faultCount(checkUp(meshOf(wide, 'm')).facts)).toBe(0)
    expect((await runStep('mend/smooth-rim', { body: 'm' }, { m: open })).facts).toMatchObject({ rims: 1 })
  })
})

describe('build', () => {
  it('offset keeps the body when asked, and makes a parallel skin of a picked area', async () => {
    const r = await runStep('build/offset', { body: 'm', by: 1, edge: 0.8, keep: true, name: 'shell' }, { m: cube })
    expect(Object.keys(r.bodies)).toEqual(['shell'])
    const part = await runStep(
      'build/offset',
      { body: 'm', by: 2, whole: false, region: grow([5, 5, 10]), name: 'lid' },
      { m: cube },
    )
    expect(meshBounds(meshOf(part, 'lid'))).toEqual({ min: [0, 0, 12], max: [10, 10, 12] })
    await expect(runStep('build/offset', { body: 'm', by: 0 }, { m: cube })).rejects.toThrow(/changes nothing/)
    await expect(runStep('build/offset', { body: 'm', by: -6, edge: 1 }, { m: cube })).rejects.toThrow(
      /nothing of "m" is left/,
    )
  })
  it('hollow warns of a sealed hollow; thicken of a closed skin', async () => {
    expect((await runStep('build/hollow', { body: 'm', wall: 2, edge: 0.8 }, { m: cube })).warnings?.join()).toMatch(
      /sealed/,
    )
    await expect(runStep('build/thicken', { body: 'm' }, { m: cube })).rejects.toThrow(/closed/)
    expect((await runStep('build/thicken', { body: 'm', by: 2 }, { m: sheet(10, 4) })).facts.volume).toBeCloseTo(200, 3)
  })
  it('booleans of mesh and exact body: volumes, names used up, what does not meet is told', async () => {
    const pin = await makeCylinder(2, 30, [5, 5, -5], [0, 0, 1]),
      far = await makeBlock([2, 2, 2], [50, 0, 0], [0, 0, 1], [1, 0, 0])
    const cut = await runStep('build/difference', { from: 'm', take: ['pin'], chord: 0.002 }, { m: cube, pin })
    expect(Number(cut.facts.volume)).toBeCloseTo(1000 - Math.PI * 40, 0)
    expect(cut.bodies.pin).toBeNull()
    await expect(runStep('build/difference', { from: 'm', take: ['far'] }, { m: cube, far })).rejects.toThrow(
      /"far" does not cut "m": they do not overlap/,
    )
    expect((await runStep('build/union', { bodies: ['m', 'far'] }, { m: cube, far })).warnings?.join()).toMatch(
      /still 2 pieces/,
    )
    await expect(runStep('build/intersection', { bodies: ['m', 'far'] }, { m: cube, far })).rejects.toThrow(
      /no room in common/,
    )
    await expect(
      runStep('build/union', { bodies: ['m', 'o'] }, { m: cube, o: without(sphere(3, 3), (x) => x > 2.5) }),
    ).rejects.toThrow(/"o" is open: 1 hole/)
    await expect(runStep('build/union', { bodies: ['m', 'o'] }, { m: cube, o: inward(sphere(3, 3)) })).rejects.toThrow(
      /faces inward/,
    )
  })
  it('a blind cutter is told; every result triangle knows where it came from', async () => {
    const pin = await makeCylinder(2, 8, [5, 5, 4], [0, 0, 1])
    const cut = await runStep('build/difference', { from: 'm', take: ['pin'] }, { m: cube, pin })
    expect(cut.warnings?.join()).toMatch(/does not pass right through/)
    const body = cut.bodies.m
    if (!body || !isMesh(body)) throw new Error('no mesh')
    expect(body.tags?.names).toEqual(['m', 'pin'])
    expect(body.tags?.source.length).toBe(triangleCount(body.mesh))
  })
})

describe('prove', () => {
  it('deviation needs two bodies and tells both ways', async () => {
    const r = await runStep(
      'prove/deviation',
      { body: 'a', against: 'b', tolerance: 0.3 },
      { a: sphere(10.2, 5), b: sphere(10, 5) },
    )
    expect(r.facts).toMatchObject({ within: 1 })
    expect(r.facts.mean).toBeCloseTo(0.2, 2)
    expect(r.bodies).toEqual({})
    // A sheet laid on the top of a block: it lies on it, whatever the block's other side is off the sheet.
    const sheet = {
      positions: Float32Array.of(2, 2, 10, 8, 2, 10, 8, 8, 10, 2, 8, 10),
      triangles: Uint32Array.of(0, 1, 2, 0, 2, 3),
    }
    const one = await runStep('prove/deviation', { body: 's', against: 'a' }, { s: sheet, a: cube })
    expect(one.facts).toMatchObject({ max: 0, rms: 0, within: 1 })
    // A far corner of the bottom is 2, 2 and 10 mm off the sheet's corner.
    expect((one.facts.back as { max: number }).max).toBeCloseTo(Math.sqrt(108), 4)
    expect(one.said).toMatch(/max 0 mm .* the other way max 10\.392 mm/)
    await expect(runStep('prove/deviation', { body: 'a', against: 'a' }, { a: cube })).rejects.toThrow(
      /nowhere but on itself/,
    )
  })
  it('measure marks its place and warns of faces out of parallel', async () => {
    const r = await runStep(
      'prove/measure',
      { what: 'distance', body: 'a', from: { as: 'point', at: [0, 0, 0] }, to: { as: 'point', at: [10, 10, 10] } },
      { a: cube },
    )
    expect(r.facts).toMatchObject({ unit: 'mm', markFrom: [0, 0, 0], markTo: [10, 10, 10] })
    expect(r.facts.value).toBeCloseTo(Math.sqrt(300), 5)
    const leaning = await runStep(
      'prove/measure',
      { what: 'faces', body: 'a', from: { as: 'plane', at: [5, 5, 10] }, to: { as: 'plane', at: [10, 5, 5] } },
      { a: cube },
    )
    expect(leaning.warnings?.join()).toMatch(/not parallel/)
    const peg = await runStep(
      'prove/measure',
      { what: 'diameter', body: 'a', from: { as: 'axis', at: [3, 0, 5] } },
      { a: cylinder(3, 10, 64, 4) },
    )
    expect(peg.facts.value).toBeCloseTo(6, 2)
  })
})

describe('stopping', () => {
  it('is heard in the middle of long work', async () => {
    const stop = new AbortController()
    let seen = 0
    const work = {
      signal: stop.signal,
      progress: () => {
        if (++seen === 3) stop.abort()
      },
    }
    await expect(runStep('mend/reskin', { body: 'm', edge: 0.3 }, { m: sphere(10, 5) }, work)).rejects.toBeInstanceOf(
      Stopped,
    )
    const second = new AbortController()
    second.abort()
    await expect(
      runStep(
        'mend/refine',
        { body: 'm', edge: 0.3 },
        { m: sphere(10, 4) },
        { signal: second.signal, progress: () => {} },
      ),
    ).rejects.toBeInstanceOf(Stopped)
  })
})
