import { z } from 'zod'
import { num, plural, volumeText } from '@/core/base/say'
import { sewBodies } from '@/core/kernels/exact/sew'
import { bodyRefs, lengthMm, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

export const sew = defineStep({
  kind: 'build/sew',
  version: 1,
  title: 'Sew',
  order: 96,
  past: 'Sewed',
  group: 'Sheets',
  facts: shown('faces', 'volume', { key: 'openEdges', label: 'Open edges', as: 'count', some: true }),
  summary: 'Joins sheets along the edges they share; where nothing stays open they become a solid.',
  settings: z.object({
    bodies: bodyRefs(['sheet', 'solid'], 'Sheets', { least: 1 }),
    tolerance: lengthMm('Edges are one within', { min: 1e-6, max: 10, more: true }).default(0.001),
    name: newBody('Name', { base: 'sewn' }).default('sewn'),
  }),
  async run({ settings: s, exact, names }) {
    const gone = new Set(s.bodies)
    if (!gone.has(s.name)) freeName(names, s.name)
    const { body, openEdges, open } = await sewBodies(
      s.bodies.map((b) => exact(b)),
      s.tolerance,
    )
    const closed = body.kind === 'solid'
    return {
      bodies: { ...Object.fromEntries(s.bodies.map((b) => [b, null])), [s.name]: body },
      facts: { closed, openEdges, faces: body.facts.faces, ...(closed ? { volume: body.facts.volume } : {}) },
      warnings: openEdges
        ? [
            `${plural(openEdges, 'edge')} ${openEdges === 1 ? 'is' : 'are'} still open, the first at ${open[0].map((v) => num(v, 2)).join(', ')}.`,
          ]
        : [],
      said: closed
        ? `closed · ${volumeText(body.facts.volume)}`
        : `${plural(body.facts.faces, 'face')}, ${plural(openEdges, 'open edge')}`,
    }
  },
})
