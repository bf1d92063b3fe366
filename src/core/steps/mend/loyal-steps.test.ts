/** Every mending step tells what it kept, and warns in words when it lost too much. */
import { describe, expect, it } from '@jest/globals'
import { factRows } from '@/core/step/facts'
import type { StepResult } from '@/core/step/step'
import { stepOf } from '@/core/steps/registry'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount, concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { addFolds } from '@/demo/damage'
import { eight, ragged, terrain } from '@/testing/hard'
import { meshOf, runStep } from '@/testing/run-step'
import { box, inward, shaken, sheet, shifted, sphere, without } from '@/testing/shapes'

const ball = sphere(20, 4)
const holed = without(ball, (x, y, z) => Math.hypot(x, y) < 5 && z > 0)
const twice = concatMeshes([ball, { positions: ball.positions, triangles: ball.triangles.slice(0, 30) }])
const soup: TriMesh = {
  positions: Float32Array.from([...ball.triangles].flatMap((v) => [...ball.positions.subarray(3 * v, 3 * v + 3)])),
  triangles: Uint32Array.from(ball.triangles.keys()),
}
const top = [{ pick: 'brush', path: [[0, 0, 20]], radius: 6 }]
const run = (kind: string, m: TriMesh, set: Record<string, unknown> = {}) => runStep(kind, { body: 'm', ...set }, { m })
const share = (r: StepResult, key: string) => r.facts[key] as number

const cases: [string, TriMesh, Record<string, unknown>, { fresh?: number; lost?: number; equal?: number }][] = [
  // What a step may lose or make up, as shares; equal: at least so much is left to the last digit.
  ['mend/weld', soup, {}, { equal: 1 }],
  ['mend/degenerate', twice, {}, { equal: 1 }],
  ['mend/face-outward', inward(ball), {}, { equal: 1 }],
  ['mend/split-non-manifold', concatMeshes([ball, shifted(ball, 60, 0, 0)]), {}, {}],
  ['mend/close-holes', holed, {}, { equal: 1, fresh: 0.05 }],
  ['mend/close-holes', holed, { how: 'flat' }, { equal: 1, fresh: 0.05 }],
  ['mend/smooth-folds', addFolds(sphere(20, 5), 4, 1.6, 1.4, 3), {}, { equal: 0.8, lost: 0.02 }],
  ['mend/untangle', eight(), {}, { equal: 0.9 }],
  ['mend/heal', ball, { region: top }, { equal: 0.9, fresh: 0.1, lost: 0.05 }],
  ['mend/smooth', shaken(ball, 0.02), {}, {}],
  ['mend/refine', ball, { edge: 3 }, { lost: 0.02, fresh: 0.5 }],
  ['mend/simplify', sphere(20, 5), { share: 50 }, { fresh: 0.5 }],
  ['mend/reskin', ball, { edge: 1 }, { fresh: 0.5 }],
  ['mend/all', holed, {}, { equal: 1, fresh: 0.05 }],
]

describe('loyalty on the cards', () => {
  it.each(cases)('%s (%#) tells kept, new and volumes', async (kind, mesh, set, may) => {
    const r = await run(kind, mesh, set)
    if (meshOf(r, 'm') === mesh) return expect(r.facts.kept ?? 1).toBe(1)
    expect(share(r, 'kept')).toBeGreaterThanOrEqual(1 - (may.lost ?? 0.005))
    expect(share(r, 'kept') + share(r, 'lost')).toBeCloseTo(1, 9)
    expect(share(r, 'fresh')).toBeLessThanOrEqual(may.fresh ?? 0.02)
    if (may.equal) expect(share(r, 'unmoved')).toBeGreaterThanOrEqual(may.equal - 1e-9)
    if (checkUp(meshOf(r, 'm')).facts.closed) expect(share(r, 'volumeAfter')).toBeGreaterThan(0)
    const rows = new Map(factRows(stepOf(kind)!.facts ?? [], r.facts, 20))
    if (!['mend/face-outward', 'mend/split-non-manifold'].includes(kind))
      expect(rows.get('Skin kept')).toMatch(/^\d+(\.\d)? %$/)
  })
  it('what was picked to go is no loss to warn of; what went unasked is', async () => {
    const removed = await run('mend/remove', ball, { region: top })
    expect(share(removed, 'lost')).toBeGreaterThan(0.005)
    expect(removed.warnings).toEqual([expect.stringMatching(/Open edges rose/)])
    const rough = await run('mend/simplify', sphere(20, 5), { to: 'count', count: 40 })
    expect(share(rough, 'lost')).toBeGreaterThan(0.005)
    expect(rough.warnings?.[0]).toMatch(
      /% of the sound skin is lost, up to [\d.]+ mm off\. "Show what was kept" shows where\.$/,
    )
    expect(rough.said).toMatch(/% of the skin kept/)
  })
  it('nothing to say is not said', async () => {
    expect((await run('mend/weld', soup)).said).toMatch(/^joined 5\s118 vertices$/)
    expect((await run('mend/degenerate', ball)).facts.kept).toBeUndefined()
  })
})

describe('Mend all on its card', () => {
  it('an open sheet: what it is, and that its border is left', async () => {
    const r = await run('mend/all', ragged(terrain(30), 4))
    expect(r.facts).toMatchObject({ seen: 'an open sheet' })
    expect(r.said).toMatch(/border left open, \d+ edges · 100 % of the skin kept/)
    expect(r.said).not.toMatch(/holes 1 →|→ 1/)
    expect(r.warnings).toEqual([])
  })
  it('two sides of a plate, a doubled skin, and shells that cross', async () => {
    const plate = await run('mend/all', concatMeshes([sheet(30, 10, () => 1), inward(sheet(30, 10))]))
    expect(plate.said).toMatch(/two sides joined to a plate/)
    const patch = shifted(
      without(sheet(40, 20), (x, y) => x < 10 || x > 25 || y < 10 || y > 25),
      0,
      0,
      0.01,
    )
    const doubled = await run('mend/all', concatMeshes([sheet(40, 20), patch]))
    expect(doubled.said).toMatch(/doubled skins 1 → 0/)
    expect(meshArea(meshOf(doubled, 'm'))).toBeCloseTo(1600, 3)
    const crossing = await run('mend/all', concatMeshes([ball, shifted(ball, 15, 0, 3)]))
    expect(crossing.said).toMatch(/crossings \d+ → 0 · 100 % of the skin kept, \d+(\.\d)? % lay inside and went/)
    expect(crossing.facts.cut).toBeGreaterThan(50)
    const apart = await run('mend/all', concatMeshes([ball, shifted(ball, 15, 0, 3)]), { pieces: 'apart' })
    expect(apart.warnings).toEqual([expect.stringMatching(/^\d+ crossings between pieces that were kept apart\.$/)])
  })
  it('specks that hold more than crumbs are told of', async () => {
    const r = await run(
      'mend/all',
      concatMeshes([
        ball,
        ...[0, 1, 2].map((i) =>
          shifted(
            without(sphere(3, 2), (_x, _y, z) => z > 0),
            40 + 9 * i,
            0,
            0,
          ),
        ),
      ]),
      { specks: 5 },
    )
    expect(r.facts.specks).toBe(3)
    expect(r.warnings?.[0]).toMatch(/^The specks it cleared hold \d\.\d % of the skin\. Set "Specks are below" lower/)
  })
  it('crossing sheets are left, and said to be', async () => {
    const other = shifted(
      sheet(40, 20, (x) => x - 20),
      3.3,
      0.4,
      0.3,
    )
    const r = await run('mend/all', concatMeshes([sheet(40, 20), other]))
    expect(r.warnings?.[0]).toMatch(/^Left: \d+ self-crossings\. Check-up shows where/)
    const u = await run('mend/untangle', concatMeshes([sheet(40, 20), other]))
    expect(u.warnings?.[0]).toMatch(/^\d+ crossings left: only closed pieces that run one way round can be cut along\./)
    expect(triangleCount(meshOf(u, 'm'))).toBe(1600)
  })
})

describe('tools that stop short say so', () => {
  it('Simplify above an impossible count', async () => {
    const r = await run('mend/simplify', ragged(terrain(30), 1), { to: 'count', count: 20 })
    expect(r.warnings?.join(' ')).toMatch(/Only down to \d+ of 20 asked: fewer would fold, tear or lie too far off/)
    expect(faultCount({ ...checkUp(meshOf(r, 'm')).facts, openEdges: 0 })).toBe(0)
  })
  it('Close holes where every patch runs into something', async () => {
    // A pin stands in the hole: whatever spans it passes through the pin.
    const plate = without(sheet(40, 20), (x, y) => Math.hypot(x - 20, y - 20) < 6)
    const pin = shifted(box(1, 1, 30, 6), 19.5, 19.5, -15.7)
    const r = await run('mend/close-holes', concatMeshes([plate, pin]), { which: 'up-to', longest: 60 })
    expect(r.facts.crossing).toBe(1)
    expect(r.warnings?.join(' ')).toMatch(/1 patch could not be laid without passing through the skin/)
  })
})
