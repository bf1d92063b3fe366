import { z } from 'zod'
import { span } from '@/core/base/work'
import { volumeText } from '@/core/base/say'
import { joinBodies } from '@/core/join/boolean'
import { factsOf, moveBody } from '@/core/kinds/registry'
import { mirror } from '@/core/math/affine'
import { normalize } from '@/core/math/vec'
import { bodyRef, direction, newBody, point, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

export const mirrorCopy = defineStep({
  kind: 'build/mirror',
  version: 1,
  title: 'Mirror copy',
  order: 80,
  past: 'Mirrored',
  group: 'Copies',
  facts: shown('volume', 'faces', 'triangles'),
  summary: 'A copy of a body mirrored in a plane, beside it or joined to it.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef('any', 'Body'),
    at: point('Plane through', { pick: 'face' }).default([0, 0, 0]),
    normal: direction('Square to').default([1, 0, 0]),
    join: toggle('Join both').default(false),
    name: newBody('Name', { base: 'mirrored', when: { field: 'join', is: [false] } }).default('mirrored'),
  }),
  async run({ settings: s, body, names, work }) {
    if (!s.join) freeName(names, s.name)
    const own = body(s.body)
    const copy = await moveBody(own, mirror(s.at, normalize(s.normal)))
    if (!s.join) {
      const { figures } = factsOf(copy)
      return {
        bodies: { [s.name]: copy },
        facts: { ...figures },
        said: `beside it as ${s.name}`,
      }
    }
    const done = await joinBodies(
      'union',
      [
        { name: s.body, body: own },
        { name: 'its mirror image', body: copy },
      ],
      {},
      span(work, 0.2, 0.8),
    )
    return {
      bodies: { [s.body]: done.body },
      facts: done.facts,
      warnings: done.warnings,
      said: `joined · ${volumeText(Number(done.facts.volume))}`,
    }
  },
})
