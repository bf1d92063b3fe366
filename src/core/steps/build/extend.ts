import { z } from 'zod'
import { areaText, num, plural } from '@/core/base/say'
import { extendSheet } from '@/core/kernels/exact/extend-sheet'
import { resolveParts } from '@/core/find/part'
import { bodyRef, edgeRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

export const extend = defineStep({
  kind: 'build/extend',
  version: 1,
  title: 'Extend sheet',
  order: 90,
  past: 'Extended',
  group: 'Sheets',
  facts: shown('area', 'faces'),
  summary: 'Draws a sheet out past picked edges of its border, each by its own length, on the surface it has.',
  settings: z.object({
    body: bodyRef(['sheet'], 'Sheet'),
    edges: edgeRefs('Edges'),
    by: lengthMm('By', { min: 1e-3 }).default(5),
    edges2: edgeRefs('Further edges', { more: true }).optional(),
    by2: lengthMm('These by', { min: 1e-3, more: true }).default(5),
  }),
  async run({ settings: s, exact }) {
    const sheet = exact(s.body)
    // All edges: those of the border.
    const border = (i: number) => sheet.parts.edges[i].faces.length === 1
    const picked = (refs: typeof s.edges | undefined) =>
      refs
        ? resolveParts(s.body, sheet, 'edge', refs)
            .map((p) => p.index)
            .filter((i) => refs !== 'all' || border(i))
        : []
    const further = picked(s.edges2)
    const first = picked(s.edges).filter((i) => !further.includes(i))
    const done = await extendSheet(sheet, [
      ...first.map((edge) => ({ edge, by: s.by, any: s.edges === 'all' })),
      ...further.map((edge) => ({ edge, by: s.by2, any: s.edges2 === 'all' })),
    ])
    const by = done.facts.area - sheet.facts.area
    return {
      bodies: { [s.body]: done },
      facts: { area: done.facts.area, areaChange: by, faces: done.facts.faces, edges: first.length + further.length },
      said: `${plural(first.length + further.length, 'edge')} by ${further.length && s.by2 !== s.by ? `${num(s.by)} and ${num(s.by2)}` : num(s.by)} mm · + ${areaText(by)}`,
    }
  },
})
