import { z } from 'zod'
import { isMesh, meshBody } from '@/core/bodies/body'
import { combineSolids } from '@/core/kernels/exact/boolean'
import { thickenSheet } from '@/core/kernels/exact/divide'
import { bodyRef, choice, lengthMm, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, mm, volumeText } from '@/core/base/say'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { resolveRegion } from '@/core/find/region'
import { offsetEdge } from '@/core/skin/offset'
import { thicken as run } from '@/core/skin/thicken'

export const thicken = defineStep({
  kind: 'build/thicken',
  version: 2,
  title: 'Thicken',
  order: 80,
  past: 'Thickened',
  group: ['Sheets', 'Walls'],
  slow: true,
  facts: shown('triangles', 'volume'),
  summary: 'Gives an open mesh, a picked area of one, or an exact sheet a wall.',
  settings: z.object({
    body: bodyRef(['mesh', 'sheet']),
    whole: toggle('The whole body').default(true),
    region: regionRef('Area', { when: { field: 'whole', is: [false] } }).optional(),
    by: lengthMm('Thickness', { min: 1e-3 }).default(2),
    side: choice('To', ['outward', 'inward', 'both'], { outward: 'outside', inward: 'inside', both: 'both' }).default(
      'inward',
    ),
    edge: lengthMm('Edge length', {
      min: 1e-4,
      help: 'where a new skin is needed; left empty: from the size',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, body, mesh, exact, work }) {
    if (!isMesh(body(s.body))) {
      const sheet = exact(s.body)
      const part = s.side === 'both' ? s.by / 2 : s.by
      const side = (wall: number) => thickenSheet(sheet, wall)
      const solid =
        s.side === 'both'
          ? await combineSolids('union', [await side(part), await side(-part)], work)
          : await side(s.side === 'outward' ? part : -part)
      return {
        bodies: { [s.body]: solid },
        facts: { volume: solid.facts.volume, faces: solid.facts.faces },
        said: `${mm(s.by)} thick · ${volumeText(solid.facts.volume)} · exact`,
      }
    }
    const m = mesh(s.body).mesh
    const out = run(
      m,
      s.whole ? null : resolveRegion(m, s.region ?? [], mesh(s.body).tags),
      s.by,
      s.side,
      s.edge ?? offsetEdge(m, s.by),
      work,
    )
    return {
      bodies: { [s.body]: meshBody(out.mesh) },
      facts: { triangles: triangleCount(out.mesh), volume: meshVolume(out.mesh), reskinned: out.reskinned },
      warnings: out.reskinned ? ['The plain wall would cross itself, so a new skin was laid over it.'] : [],
      said: `${mm(s.by)} thick · ${volumeText(meshVolume(out.mesh))} · ${many(triangleCount(out.mesh))} triangles`,
    }
  },
})
