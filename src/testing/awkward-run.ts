/**
 * Every tool on one awkward mesh, for the test beside the steps: prints what came of each as JSON. A program of its own, since the test
 * runner's sandbox slows number work down several times.
 */
import { checkUp, faultCount } from '@/core/mesh/check-up'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { isMesh } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { bodiesIn } from '@/core/step/fields'
import { allSteps } from '@/core/steps/registry'
import { ways } from './plausible'
import { runStep } from './run-step'
import { awkward, box, shifted } from './shapes'

/** Every step that works on bodies, in each of its main ways; a scan of a body is only slow, and a net by edge is one by count. */
export const tools = allSteps
  .flatMap((s) => ways(s).map((set) => ({ step: s, set })))
  .filter(({ step, set }) => bodiesIn(step.settings, set).reads.length > 0 && !step.kind.startsWith('bring-in/'))
  .filter(({ step, set }) => step.kind !== 'convert/quad-net' || set.size === 'count')
  // A net and a smooth body, which are tried by themselves.
  .filter(({ step }) => step.kind !== 'convert/auto-skin')

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
/** Some tools take long on some of these: needles 800 times longer than wide, and microns a kilometre off, take these up to half a minute each. */
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
    'convert/facet-solid',
    'convert/recognise',
    'convert/clean-solid',
    'convert/quad-net',
    'convert/cage',
  ],
  'microns in metres': [
    'mend/reskin',
    'build/thicken',
    'build/chamfer',
    'build/fillet',
    'build/shell',
    'convert/recognise',
    'convert/clean-solid',
    'convert/quad-net',
  ],
  // The same as on the sphere by itself, three times over.
  nested: ['build/chamfer', 'build/fillet'],
}
const finite = (m: TriMesh) => m.positions.every(Number.isFinite)

const name = process.argv[2]
const mesh = awkward()[name]
const cutter = shifted(box(8, 8, 8, 3), -3, -2.7, 3.3)
const out: Outcome[] = []
for (const { step, set } of tools) {
  const { kind } = step
  if (slow[name]?.includes(kind)) continue
  const from = performance.now()
  const o: Outcome = { tool: `${kind} ${JSON.stringify(set)}`, finite: true, indices: true, ms: 0 }
  try {
    const r = await runStep(kind, set, { one: mesh, two: cutter })
    o.said = r.said
    for (const b of Object.values(r.bodies))
      if (b && isMesh(b)) {
        o.indices &&= b.mesh.triangles.every((v) => 3 * v < b.mesh.positions.length)
        if (finite(mesh)) o.finite &&= finite(b.mesh)
        if (neverWorse.has(kind) && finite(mesh)) {
          o.faultsBefore = faultCount(checkUp(mesh).facts)
          // The border of a sheet stays open by choice.
          o.faultsAfter = faultCount(checkUp(b.mesh).facts) - Number(r.facts.borderEdges ?? 0)
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
