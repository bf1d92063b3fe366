import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { resolvePart } from '@/core/find/part'
import { chamferEdges } from '@/core/kernels/exact/fillet'
import { angleDeg, bodyRef, choice, edgeRefs, faceRef, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, edgesPicked } from './features'

export const chamfer = defineStep({
  kind: 'build/chamfer',
  version: 1,
  title: 'Chamfer',
  order: 72,
  past: 'Chamfered',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Cuts edges of an exact body off: by one distance, by two, or by a distance and an angle.',
  settings: z.object({
    body: bodyRef({ can: 'exact' }, 'Body'),
    edges: edgeRefs('Edges').optional(),
    faces: faceRefs('All edges of faces', { more: true }).optional(),
    by: choice('By', ['distance', 'two', 'angle'], {
      distance: 'one distance',
      two: 'two distances',
      angle: 'distance and angle',
    }).default('distance'),
    distance: lengthMm('Distance', { min: 1e-3 }).default(1),
    second: lengthMm('Other distance', { min: 1e-3, when: { field: 'by', is: ['two'] } }).default(2),
    angle: angleDeg('Angle', { min: 1, max: 89, when: { field: 'by', is: ['angle'] } }).default(45),
    face: faceRef('Distance is on', { more: true, when: { field: 'by', is: ['two', 'angle'] } }).optional(),
  }),
  async run({ settings: s, exact, work }) {
    const body = exact(s.body)
    const edges = edgesPicked(s.body, body, s.edges ?? (s.faces ? undefined : []), s.faces)
    const done = await chamferEdges(
      body,
      [
        {
          edges,
          size: s.distance,
          ...(s.by === 'two' ? { second: s.second } : s.by === 'angle' ? { angle: s.angle } : {}),
          ...(s.face ? { face: resolvePart(s.body, body, 'face', s.face).index } : {}),
        },
      ],
      work,
    )
    const how = s.by === 'two' ? ` and ${num(s.second)}` : s.by === 'angle' ? ` at ${num(s.angle)}°` : ''
    return changed(s.body, body, done, `${plural(edges.length, 'edge')}, ${num(s.distance)}${how} mm`)
  },
})
