import { z } from 'zod'
import { span } from '@/core/base/work'
import { plural } from '@/core/base/say'
import { filletEdges } from '@/core/kernels/exact/fillet'
import { bodyRef, edgeRefs, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody, onRims, roundRims, sizes } from './features'

export const fillet = defineStep({
  kind: 'build/fillet',
  version: 1,
  title: 'Fillet',
  order: 70,
  past: 'Rounded',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Rounds edges of solids and meshes, with all that runs on smoothly from them; several radii in one step.',
  settings: z.object({
    body: bodyRef(['solid', 'sheet', 'mesh'], 'Body'),
    edges: edgeRefs('Edges').optional(),
    faces: faceRefs('All edges of faces', { more: true }).optional(),
    radius: lengthMm('Radius', { min: 1e-3 }).default(1),
    edges2: edgeRefs('Further edges', { more: true }).optional(),
    radius2: lengthMm('Their radius', { min: 1e-3, more: true }).default(2),
  }),
  async run({ settings: s, body, work }) {
    const rims = s.faces || s.edges2 ? null : roundRims(s.body, body(s.body), s.edges)
    if (rims) return onRims(s.body, rims, 'fillet', s.radius, s.radius, work)
    const on = await featureBody(s.body, body(s.body), work)
    const first = on.edges(s.edges ?? (s.faces || s.edges2 ? undefined : []), s.faces)
    const more = s.edges2 ? on.edges(s.edges2) : []
    const done = await filletEdges(
      on.exact,
      [
        { edges: first.filter((e) => !more.includes(e)), size: s.radius },
        ...(more.length ? [{ edges: more, size: s.radius2 }] : []),
      ],
      span(work, 0.4, 0.6),
      on.smooth,
    )
    return changed(
      s.body,
      on,
      done,
      `${plural(first.length + more.length, 'edge')}, radius ${sizes(more.length ? [s.radius, s.radius2] : [s.radius])} mm`,
      { edges: first.length + more.length },
    )
  },
})
