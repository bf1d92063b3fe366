import { z } from 'zod'
import { plural } from '@/core/base/say'
import { filletEdges } from '@/core/kernels/exact/fillet'
import { bodyRef, edgeRefs, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, edgesPicked, sizes } from './features'

export const fillet = defineStep({
  kind: 'build/fillet',
  version: 1,
  title: 'Fillet',
  order: 70,
  past: 'Rounded',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Rounds edges of an exact body, with all that runs on smoothly from them; several radii in one step.',
  settings: z.object({
    body: bodyRef({ can: 'exact' }, 'Body'),
    edges: edgeRefs('Edges').optional(),
    faces: faceRefs('All edges of faces', { more: true }).optional(),
    radius: lengthMm('Radius', { min: 1e-3 }).default(1),
    edges2: edgeRefs('Further edges', { more: true }).optional(),
    radius2: lengthMm('Their radius', { min: 1e-3, more: true }).default(2),
  }),
  async run({ settings: s, exact, work }) {
    const body = exact(s.body)
    const first = edgesPicked(s.body, body, s.edges ?? (s.faces || s.edges2 ? undefined : []), s.faces)
    const more = s.edges2 ? edgesPicked(s.body, body, s.edges2, undefined) : []
    const done = await filletEdges(
      body,
      [
        { edges: first.filter((e) => !more.includes(e)), size: s.radius },
        ...(more.length ? [{ edges: more, size: s.radius2 }] : []),
      ],
      work,
    )
    return changed(
      s.body,
      body,
      done,
      `${plural(first.length + more.length, 'edge')}, radius ${sizes(more.length ? [s.radius, s.radius2] : [s.radius])} mm`,
    )
  },
})
