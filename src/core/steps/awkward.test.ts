/** Every tool on every awkward mesh: a right result or a sentence; never a hang, never a worse mesh. */
import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mend/check-up'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/recipe/step-error'
import { runStep } from '@/testing/run-step'
import { awkward, box, shifted } from '@/testing/shapes'

const whole = [{ pick: 'grow', at: [0, 0, 10], angle: 30 }]
const tools: [string, Record<string, unknown>][] = [
  ['mend/check-up', {}], ['mend/all', {}], ['mend/weld', {}], ['mend/specks', {}], ['mend/face-outward', {}], ['mend/degenerate', {}], ['mend/split-non-manifold', {}], ['mend/untangle', {}], ['mend/smooth-folds', {}],
  ['mend/close-holes', {}], ['mend/close-holes', { how: 'flat' }], ['mend/close-part', { from: [10, 0, 0], to: [-10, 0, 0] }], ['mend/bridge-gap', { from: [10, 0, 0], to: [-10, 0, 0] }], ['mend/widen-hole', {}], ['mend/smooth-rim', {}],
  ['mend/heal', { region: whole }], ['mend/remove', { region: whole }], ['mend/flip', { region: whole }],
  ['mend/smooth', {}], ['mend/smooth', { how: 'fair' }], ['mend/smooth', { how: 'keep-sharp' }], ['mend/simplify', {}], ['mend/simplify', { to: 'deviation' }], ['mend/refine', {}], ['mend/reskin', { edge: 0.8 }],
  ['mend/take-apart', {}], ['mend/trim', { at: [0, 0, 1], axis: [0.1, 0, 1], keep: 'both', other: 'b' }], ['mend/trim', { by: 'line', line: { toward: [0, 1, 0], line: [[-30, -50, 1], [30, -50, 2]] } }],
  ['mend/trim', { by: 'outline', line: { toward: [0, 1, 0], line: [[-5, -50, -5], [5, -50, -5], [5, -50, 5], [-5, -50, 5]] } }], ['mend/split', { by: 'cutter' }],
  ['build/offset', { by: 0.5, edge: 0.8 }], ['build/offset', { by: -0.5, edge: 0.8 }], ['build/thicken', { by: 0.5, edge: 0.8 }], ['build/hollow', { wall: 1, edge: 0.8 }], ['build/union', { bodies: ['m', 'cutter'] }], ['build/difference', { from: 'm', take: ['cutter'] }],
  ['prove/deviation', { against: 'cutter' }], ['prove/measure', { what: 'wall', from: { as: 'point', at: [0, 0, 10] } }], ['prove/measure', { what: 'rim', from: { as: 'point', at: [0, 0, 10] } }], ['set-down/match', { to: 'cutter' }], ['set-down/three-touch', { face: { as: 'plane', at: [0, 0, 10] } }],
]
/** These must never leave more faults than came in. */
const neverWorse = new Set(['mend/all', 'mend/untangle', 'mend/smooth-folds', 'mend/degenerate'])
const cutter = shifted(box(8, 8, 8, 3), -3, -2.7, 3.3)
const finite = (m: TriMesh) => m.positions.every(Number.isFinite)

describe.each(Object.entries(awkward()))('%s', (name, mesh) => {
  // Needles 800 times longer than wide take these tools up to half a minute each; they are timed elsewhere.
  const slow = name === 'hole with 5000 edges' ? ['mend/all', 'mend/refine', 'mend/reskin', 'mend/simplify', 'mend/close-holes', 'build/thicken', 'set-down/match', 'prove/deviation'] : name === 'microns in metres' ? ['mend/reskin', 'build/thicken'] : []
  it.each(tools.filter(([kind, set]) => !slow.includes(kind) || set.how === 'flat'))('%s %j', async (kind, set) => {
    const needs = kind.startsWith('build/union') || kind.startsWith('build/difference') ? {} : { body: 'm' }
    try {
      const r = await runStep(kind, { ...needs, ...set }, { m: mesh, cutter })
      expect(r.said.length).toBeGreaterThan(0)
      for (const b of Object.values(r.bodies)) if (b?.kind === 'mesh') {
        expect(b.mesh.triangles.every((v) => 3 * v < b.mesh.positions.length)).toBe(true)
        if (finite(mesh)) expect(finite(b.mesh)).toBe(true)
        if (neverWorse.has(kind) && name !== 'not numbers') expect(faultCount(checkUp(b.mesh).facts)).toBeLessThanOrEqual(faultCount(checkUp(mesh).facts))
      }
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      expect(error.message).toMatch(/^["A-Z0-9].*[.!]$/)
    }
  }, 60_000)
})
