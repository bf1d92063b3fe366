import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, lengthMm, points } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, plural, volumeText } from '@/core/base/say'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { span } from '@/core/base/work'
import { hollow as run, offsetEdge, requireSound } from '@/core/skin/offset'

export const hollow = defineStep({
  kind: 'build/hollow',
  version: 3,
  title: 'Hollow',
  order: 90,
  past: 'Hollowed',
  group: 'Walls',
  slow: true,
  facts: shown('triangles', 'volume', 'volumeChange', 'hollowVolume', 'drains'),
  summary: 'Leaves a wall of a thickness and takes out the inside, with drain holes where picked.',
  settings: z.object({
    body: bodyRef('mesh'),
    wall: lengthMm('Wall', { min: 1e-3 }).default(2),
    drains: points('Drain holes', { pick: 'point', on: 'body' }).default([]),
    diameter: lengthMm('Their diameter', { min: 0.01 }).default(4),
    edge: lengthMm('Edge length where laid anew', {
      min: 1e-4,
      help: 'left empty: from the size',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    requireSound(s.body, m, span(work, 0, 0.1))
    const h = await run(
      s.body,
      m,
      s.wall,
      s.edge ?? offsetEdge(m, s.wall),
      s.drains.map((at) => ({ at, diameter: s.diameter })),
      span(work, 0.1, 1),
    )
    const volume = meshVolume(h.mesh)
    return {
      bodies: { [s.body]: meshBody(h.mesh) },
      facts: {
        triangles: triangleCount(h.mesh),
        volumeBefore: h.outer,
        volume,
        volumeChange: volume - h.outer,
        hollowVolume: h.inner,
        drains: h.drains,
      },
      warnings: h.drains
        ? []
        : ['The hollow is sealed: a printer would leave resin or powder in it. Pick places for drain holes.'],
      said: `wall ${mm(s.wall)}, ${plural(h.drains, 'drain hole')} · ${volumeText(volume)} of ${volumeText(h.outer)}`,
    }
  },
})
