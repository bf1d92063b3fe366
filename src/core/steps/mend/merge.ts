import { z } from 'zod'
import { meshBody, type Body } from '@/core/bodies/body'
import { bodyRefs, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, plural } from '@/core/base/say'
import { concatMeshes, triangleCount } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

export const merge = defineStep({
  kind: 'mend/merge',
  version: 1,
  title: 'Merge pieces',
  order: 230,
  past: 'Merged',
  group: 'Cut',
  facts: shown('triangles'),
  summary: 'Puts several meshes back into one body, side by side; Union is for joining their insides.',
  settings: z.object({
    bodies: bodyRefs(['mesh'], 'Meshes', { least: 2 }),
    keep: toggle('Keep the others').default(false),
  }),
  run({ settings: s, mesh }) {
    if (new Set(s.bodies).size !== s.bodies.length) throw new StepError('same-body', 'The same body is picked twice.')
    const parts = s.bodies.map((n) => mesh(n).mesh)
    const all = concatMeshes(parts)
    const tags = {
      names: s.bodies,
      source: new Uint32Array(triangleCount(all)),
      face: new Uint32Array(triangleCount(all)),
    }
    let at = 0
    parts.forEach((p, i) => {
      for (let t = 0; t < triangleCount(p); t++, at++) {
        tags.source[at] = i
        tags.face[at] = t
      }
    })
    const bodies: Record<string, Body | null> = { [s.bodies[0]]: meshBody(all, tags) }
    if (!s.keep) for (const n of s.bodies.slice(1)) bodies[n] = null
    return Promise.resolve({
      bodies,
      facts: { triangles: triangleCount(all), bodies: s.bodies.length },
      said: `${plural(s.bodies.length, 'mesh', 'meshes')} as one · ${many(triangleCount(all))} triangles`,
    })
  },
})
