import { z } from 'zod'
import { colourOf, inColour, meshBody } from '@/core/bodies/body'
import type { Body } from '@/core/bodies/body'
import { bodyRef, percent } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { takeApart as apart } from '@/core/mend/take-apart'
import { StepError } from '@/core/base/step-error'

export const takeApart = defineStep({
  kind: 'mend/take-apart',
  version: 1,
  title: 'Take apart',
  order: 220,
  past: 'Took apart',
  group: 'Cut',
  facts: shown('pieces'),
  namesItself: true,
  summary: 'Makes every piece of a mesh a body of its own, largest first.',
  settings: z.object({
    body: bodyRef('mesh'),
    least: percent('Leave out pieces below', { help: 'of the area of the largest', more: true }).default(0),
  }),
  run({ settings: s, mesh, names }) {
    const m = mesh(s.body)
    const parts = apart(m.mesh, s.least / 100)
    if (parts.pieces.length < 2)
      return Promise.resolve({
        bodies: { [s.body]: m },
        facts: { pieces: 1, leftOut: parts.leftOut },
        said: 'one piece already',
      })
    if (parts.pieces.length > 200)
      throw new StepError(
        'many-pieces',
        `"${s.body}" has ${parts.pieces.length} pieces, more than can lie on the bench apart.`,
        { where: { body: s.body }, tryThis: 'Clear specks first, or leave out small pieces.' },
      )
    const bodies: Record<string, Body | null> = { [s.body]: null }
    let i = 1
    for (const mesh2 of parts.pieces) {
      while (names.has(`${s.body} ${i}`)) i++
      bodies[`${s.body} ${i++}`] = inColour(meshBody(mesh2), colourOf(m))
    }
    return Promise.resolve({
      bodies,
      facts: { pieces: parts.pieces.length, leftOut: parts.leftOut },
      said: `${plural(parts.pieces.length, 'piece')}${parts.leftOut ? `, ${parts.leftOut} left out` : ''}`,
    })
  },
})
