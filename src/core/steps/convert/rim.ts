import { z } from 'zod'
import type { OutlineBody } from '@/core/bodies/body'
import { mm, num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { tagsIn } from '@/core/find/exact-face'
import { resolveRegion } from '@/core/find/region'
import { rimPieces } from '@/core/find/taken-rows'
import { planeOfTriangles } from '@/core/find/touch'
import { outlineFigures } from '@/core/kinds/outline'
import { dot, sub } from '@/core/math/vec'
import { diagonal, meshBounds } from '@/core/mesh/tri-mesh'
import { drawingPlane, emptyDrawing, toPlane, type Place } from '@/core/outline/drawing'
import { chained } from '@/core/outline/chained'
import { bodyRef, newBody, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { shownSkin } from '@/core/kinds/registry'
import { defineStep, freeName } from '@/core/step/step'

export const rim = defineStep({
  kind: 'convert/rim',
  version: 1,
  title: 'Rim',
  order: 14,
  past: 'Took the rim of an area of',
  group: 'Outline',
  facts: shown(
    { key: 'loops', label: 'Closed loops', as: 'count' },
    { key: 'length', label: 'Length', as: 'length' },
    { key: 'area', label: 'Enclosed area', as: 'area' },
    { key: 'off', label: 'Off the plane by at most', as: 'length' },
  ),
  summary: 'The rims of a face or picked area, laid in its plane as reference curves to trace.',
  settings: z.object({
    body: bodyRef('any', 'Body', { changes: false }),
    region: regionRef('Area', { on: 'body' }),
    name: newBody('Name', { base: 'rim' }).default('rim'),
  }),
  run({ settings: s, body, names }) {
    const mesh = shownSkin(body(s.body))
    const flags = resolveRegion(mesh, s.region, tagsIn(body(s.body)))
    const list = Array.from(flags.keys()).filter((t) => flags[t])
    if (!list.length)
      throw new StepError('empty-region', `No triangle of "${s.body}" is picked.`, {
        where: { body: s.body },
        tryThis: 'Pick an area of it.',
      })
    const fit = planeOfTriangles(mesh, list)
    const plane = drawingPlane(fit.point, fit.normal)
    let off = 0
    const pieces = rimPieces(mesh, flags).map((ends): [Place, Place] => {
      for (const p of ends) off = Math.max(off, Math.abs(dot(sub(p, fit.point), fit.normal)))
      return [toPlane(plane, ends[0]), toPlane(plane, ends[1])]
    })
    if (!pieces.length)
      throw new StepError('no-rim', `The picked area of "${s.body}" is the whole skin: it has no rim.`, {
        where: { body: s.body },
        tryThis: 'Pick a part of it.',
      })
    const rows = chained(pieces, diagonal(meshBounds(mesh)) * 1e-7)
    const out: OutlineBody = {
      kind: 'outline',
      plane,
      drawing: emptyDrawing,
      reference: rows.map((r) => ({ places: Float64Array.from(r.places.flatMap((p) => [...p])), closed: r.closed })),
    }
    const f = outlineFigures(out)
    const area = f.areas.reduce((sum, a) => sum + a, 0)
    return Promise.resolve({
      bodies: { [freeName(names, s.name)]: out },
      facts: { loops: f.loops, openRuns: f.open, length: f.length, area, off },
      warnings: off > 0.01 ? [`The rim leaves its plane by up to ${mm(off, 3)}; it is laid flat.`] : [],
      said: `${plural(f.loops, 'loop')} · ${mm(f.length, 1)} · ${num(area, 1)} mm²`,
    })
  },
})
