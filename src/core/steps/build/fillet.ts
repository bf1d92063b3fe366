import { z } from 'zod'
import { span } from '@/core/base/work'
import { num, plural } from '@/core/base/say'
import { filletEdges } from '@/core/kernels/exact/fillet'
import { fullRound } from '@/core/kernels/exact/full-round'
import { bodyRef, choice, edgeRefs, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import {
  anyBends,
  changed,
  exactOrOnMesh,
  featureBody,
  meshRows,
  onCreases,
  onRims,
  roundRims,
  sizes,
} from './features'

const byRadius = { field: 'how', is: ['radius'] }

export const fillet = defineStep({
  kind: 'build/fillet',
  version: 3,
  title: 'Fillet',
  order: 70,
  past: 'Rounded',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary:
    'Rounds edges of solids and meshes, with all that runs on smoothly from them; several radii in one step, or a rim from side to side.',
  settings: z.object({
    body: bodyRef(['solid', 'sheet', 'mesh'], 'Body'),
    how: choice('Round', ['radius', 'full'], {
      radius: 'edges, by a radius',
      full: 'a rim, from side to side',
    }).default('radius'),
    rims: faceRefs('Flat tops of walls', { when: { field: 'how', is: ['full'] } }).optional(),
    edges: edgeRefs('Edges', { when: byRadius }).optional(),
    faces: faceRefs('All edges of faces', { more: true, when: byRadius }).optional(),
    radius: lengthMm('Radius', { min: 1e-3, when: byRadius }).default(1),
    edges2: edgeRefs('Further edges', { more: true, when: byRadius }).optional(),
    radius2: lengthMm('Their radius', { min: 1e-3, more: true, when: byRadius }).default(2),
  }),
  async run({ settings: s, body, work }) {
    if (s.how === 'full') {
      const on = await featureBody(s.body, body(s.body), work)
      const names = on.faces(s.rims ?? []).map((i) => on.exact.parts.faces[i].name)
      let now = on.exact
      const widths: number[] = []
      let strip = 0
      for (const [k, name] of names.entries()) {
        const face = now.parts.faces.findIndex((f) => f.name === name)
        const done = await fullRound(now, face, span(work, k / names.length, 1 / names.length))
        now = done.body
        widths.push(done.width)
        strip = Math.max(strip, done.strip)
      }
      const made = changed(
        s.body,
        on,
        now,
        `${plural(names.length, 'rim')} ${sizes(widths)} mm wide, from side to side`,
        {
          rims: names.length,
          width: widths[0],
          strip,
        },
      )
      if (!strip) return made
      const left = `No one round fits these walls (they lean or bend), so two fillets meet on the rim: a flat strip of ${num(strip, 5)} mm is left between them.`
      return { ...made, warnings: [...(made.warnings ?? []), left] }
    }
    const rims = s.faces || s.edges2 ? null : roundRims(s.body, body(s.body), s.edges)
    if (rims) return onRims(s.body, rims, 'fillet', s.radius, s.radius, work)
    const creases = s.faces || s.edges2 ? null : meshRows(s.body, body(s.body), s.edges)
    const onMesh = creases && (() => onCreases(s.body, creases, 'fillet', s.radius, s.radius, work))
    if (onMesh && anyBends(creases.rows)) return onMesh()
    return exactOrOnMesh(async () => {
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
    }, onMesh)
  },
})
