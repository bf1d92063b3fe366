import { z } from 'zod'
import { span } from '@/core/base/work'
import { num, plural } from '@/core/base/say'
import { chamferEdges } from '@/core/kernels/exact/fillet'
import { angleDeg, bodyRef, choice, edgeRefs, faceRef, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { anyBends, changed, exactOrOnMesh, featureBody, meshRows, onCreases, onRims, roundRims } from './features'

export const chamfer = defineStep({
  kind: 'build/chamfer',
  version: 2,
  title: 'Chamfer',
  order: 72,
  past: 'Chamfered',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Cuts edges of solids and meshes off: by one distance, by two, or by a distance and an angle.',
  settings: z.object({
    body: bodyRef(['solid', 'sheet', 'mesh'], 'Body'),
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
  async run({ settings: s, body, work }) {
    const rims = s.faces ? null : roundRims(s.body, body(s.body), s.edges)
    const down =
      s.by === 'two' ? s.second : s.by === 'angle' ? s.distance * Math.tan((s.angle * Math.PI) / 180) : s.distance
    if (rims) {
      return onRims(s.body, rims, 'chamfer', s.distance, down, work)
    }
    const creases = s.faces ? null : meshRows(s.body, body(s.body), s.edges)
    const onMesh = creases && (() => onCreases(s.body, creases, 'chamfer', s.distance, down, work))
    if (onMesh && anyBends(creases.rows)) return onMesh()
    return exactOrOnMesh(async () => {
      const on = await featureBody(s.body, body(s.body), work)
      const edges = on.edges(s.edges ?? (s.faces ? undefined : []), s.faces)
      const done = await chamferEdges(
        on.exact,
        [
          {
            edges,
            size: s.distance,
            ...(s.by === 'two' ? { second: s.second } : s.by === 'angle' ? { angle: s.angle } : {}),
            ...(s.face ? { face: on.faces([s.face])[0] } : {}),
          },
        ],
        span(work, 0.4, 0.6),
        on.smooth,
      )
      const how = s.by === 'two' ? ` and ${num(s.second)}` : s.by === 'angle' ? ` at ${num(s.angle)}°` : ''
      return changed(s.body, on, done, `${plural(edges.length, 'edge')}, ${num(s.distance)}${how} mm`, {
        edges: edges.length,
      })
    }, onMesh)
  },
})
