import { z } from 'zod'
import { areaText, num, plural, volumeText } from '@/core/base/say'
import { capOpenings } from '@/core/kernels/exact/cap'
import { resolveParts } from '@/core/find/part'
import { bodyRef, choice, edgeRefs, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

export const cap = defineStep({
  kind: 'build/cap',
  version: 1,
  title: 'Cap openings',
  order: 94,
  past: 'Capped',
  group: 'Sheets',
  facts: shown('volume', 'faces', { key: 'openings', label: 'Still open', as: 'count', some: true }),
  summary:
    'Closes openings of a sheet, flat or by patches that run on from the faces beside them; with none left it is a solid.',
  settings: z.object({
    body: bodyRef(['sheet'], 'Sheet'),
    whole: toggle('All openings').default(true),
    edges: edgeRefs('An edge of each opening', { when: { field: 'whole', is: [false] } }).optional(),
    fill: choice('Closed', ['either', 'flat', 'tangent'], {
      either: 'flat, else running on',
      flat: 'flat',
      tangent: 'running on smoothly',
    }).default('either'),
  }),
  async run({ settings: s, exact }) {
    const sheet = exact(s.body)
    const picked = s.whole ? null : resolveParts(s.body, sheet, 'edge', s.edges ?? []).map((p) => p.index)
    const { body, flat, patched, open, turn } = await capOpenings(sheet, picked, s.fill)
    const closed = body.kind === 'solid'
    return {
      bodies: { [s.body]: body },
      facts: {
        closed,
        flat,
        patched,
        openings: open,
        faces: body.facts.faces,
        ...(patched ? { turn } : {}),
        ...(closed ? { volume: body.facts.volume } : { area: body.facts.area }),
      },
      warnings:
        turn > 1
          ? [
              `A patch turns by up to ${num(turn, 1)}° from a face beside it: the faces round that opening do not agree.`,
            ]
          : [],
      said: `${[flat && `${plural(flat, 'opening')} closed flat`, patched && `${plural(patched, 'patch', 'patches')} laid`].filter(Boolean).join(', ')} · ${closed ? volumeText(body.facts.volume) : areaText(body.facts.area)}`,
    }
  },
})
