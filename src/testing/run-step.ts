/** Runs one step on meshes by name, as the evaluation does, without store or cache. */
import { isMesh, meshBody, type Body } from '@/core/bodies/body'
import { runOn, type StepResult } from '@/core/step/step'
import { quiet, type Work } from '@/core/base/work'
import { stepOf } from '@/core/steps/registry'
import type { TriMesh } from '@/core/mesh/tri-mesh'

export async function runStep(
  kind: string,
  settings: Record<string, unknown>,
  meshes: Record<string, TriMesh | Body>,
  work: Work = quiet,
  files: Record<string, Uint8Array> = {},
): Promise<StepResult> {
  const definition = stepOf(kind)!
  const parsed = definition.settings.strict().parse(settings)
  const bodies = new Map<string, Body>(Object.entries(meshes).map(([n, m]) => [n, 'kind' in m ? m : meshBody(m)]))
  const find = (name: string) => {
    const b = bodies.get(name)
    if (!b) throw new Error(`no body "${name}"`)
    return b
  }
  return runOn(definition, parsed, find, {
    work,
    names: new Set(bodies.keys()),
    file: (name) => (files[name] ? Promise.resolve(files[name]) : Promise.reject(new Error(`no file "${name}" here`))),
  })
}

/** The mesh a step gave under a name. */
export function meshOf(result: StepResult, name: string): TriMesh {
  const b = result.bodies[name]
  if (!b || !isMesh(b)) throw new Error(`no mesh "${name}"`)
  return b.mesh
}
