/**
 * Every tool on one awkward mesh, for the test beside the steps: prints what came of each as JSON. A program of its own, since the test
 * runner's sandbox slows number work down several times.
 */
import { checkUp, faultCount } from '@/core/mesh/check-up'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { isMesh } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { runStep } from './run-step'
import { awkward, box, shifted } from './shapes'

const whole = [{ pick: 'grow', at: [0, 0, 10], angle: 30 }]
export const tools: [string, Record<string, unknown>][] = [
  ['mend/check-up', {}],
  ['mend/all', {}],
  ['mend/weld', {}],
  ['mend/specks', {}],
  ['mend/face-outward', {}],
  ['mend/degenerate', {}],
  ['mend/split-non-manifold', {}],
  ['mend/untangle', {}],
  ['mend/smooth-folds', {}],
  ['mend/close-holes', {}],
  ['mend/close-holes', { how: 'flat' }],
  ['mend/close-part', { from: [10, 0, 0], to: [-10, 0, 0] }],
  ['mend/bridge-gap', { from: [10, 0, 0], to: [-10, 0, 0] }],
  ['mend/widen-hole', {}],
  ['mend/smooth-rim', {}],
  ['mend/heal', { region: whole }],
  ['mend/remove', { region: whole }],
  ['mend/flip', { region: whole }],
  ['mend/smooth', {}],
  ['mend/smooth', { how: 'fair' }],
  ['mend/smooth', { how: 'keep-sharp' }],
  ['mend/simplify', {}],
  ['mend/simplify', { to: 'deviation' }],
  ['mend/refine', {}],
  ['mend/reskin', { edge: 0.8 }],
  ['mend/take-apart', {}],
  ['mend/trim', { at: [0, 0, 1], axis: [0.1, 0, 1], keep: 'both', other: 'b' }],
  [
    'mend/trim',
    {
      by: 'line',
      line: {
        toward: [0, 1, 0],
        line: [
          [-30, -50, 1],
          [30, -50, 2],
        ],
      },
    },
  ],
  [
    'mend/trim',
    {
      by: 'outline',
      line: {
        toward: [0, 1, 0],
        line: [
          [-5, -50, -5],
          [5, -50, -5],
          [5, -50, 5],
          [-5, -50, 5],
        ],
      },
    },
  ],
  ['mend/split', { by: 'cutter' }],
  ['build/offset', { by: 0.5, edge: 0.8 }],
  ['build/offset', { by: -0.5, edge: 0.8 }],
  ['build/thicken', { by: 0.5, edge: 0.8 }],
  ['build/hollow', { wall: 1, edge: 0.8 }],
  ['build/union', { bodies: ['m', 'cutter'] }],
  ['build/difference', { from: 'm', take: ['cutter'] }],
  ['prove/deviation', { against: 'cutter' }],
  ['prove/measure', { what: 'wall', from: { as: 'point', at: [0, 0, 10] } }],
  ['prove/measure', { what: 'rim', from: { as: 'point', at: [0, 0, 10] } }],
  ['set-down/match', { to: 'cutter' }],
  ['set-down/three-touch', { face: { as: 'plane', at: [0, 0, 10] } }],
]
export interface Outcome {
  tool: string
  said?: string
  refused?: string
  crashed?: string
  finite: boolean
  indices: boolean
  faultsBefore?: number
  faultsAfter?: number
  ms: number
}

/** These must never leave more faults than came in. */
const neverWorse = new Set(['mend/all', 'mend/untangle', 'mend/smooth-folds', 'mend/degenerate'])
/** Needles 800 times longer than wide, and microns a kilometre off, take these up to half a minute each. */
const slow: Record<string, string[]> = {
  'hole with 5000 edges': [
    'mend/all',
    'mend/refine',
    'mend/reskin',
    'mend/simplify',
    'mend/close-holes',
    'build/thicken',
    'set-down/match',
    'prove/deviation',
  ],
  'microns in metres': ['mend/reskin', 'build/thicken'],
}
const finite = (m: TriMesh) => m.positions.every(Number.isFinite)

const name = process.argv[2]
const mesh = awkward()[name]
const cutter = shifted(box(8, 8, 8, 3), -3, -2.7, 3.3)
const out: Outcome[] = []
for (const [kind, set] of tools) {
  if (slow[name]?.includes(kind) && set.how !== 'flat') continue
  const needs = kind === 'build/union' || kind === 'build/difference' ? {} : { body: 'm' }
  const from = performance.now()
  const o: Outcome = { tool: `${kind} ${JSON.stringify(set)}`, finite: true, indices: true, ms: 0 }
  try {
    const r = await runStep(kind, { ...needs, ...set }, { m: mesh, cutter })
    o.said = r.said
    for (const b of Object.values(r.bodies))
      if (b && isMesh(b)) {
        o.indices &&= b.mesh.triangles.every((v) => 3 * v < b.mesh.positions.length)
        if (finite(mesh)) o.finite &&= finite(b.mesh)
        if (neverWorse.has(kind) && finite(mesh)) {
          o.faultsBefore = faultCount(checkUp(mesh).facts)
          o.faultsAfter = faultCount(checkUp(b.mesh).facts)
        }
      }
  } catch (error) {
    if (error instanceof StepError) o.refused = error.message
    else o.crashed = error instanceof Error ? `${error.message} ${error.stack?.split('\n')[1] ?? ''}` : String(error)
  }
  o.ms = Math.round(performance.now() - from)
  out.push(o)
}
process.stdout.write(JSON.stringify(out))
