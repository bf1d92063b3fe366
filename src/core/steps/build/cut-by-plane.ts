import { z } from 'zod'
import { piecesDiffer } from '@/core/gauge/adds-up'
import type { Body } from '@/core/bodies/body'
import { volumeText } from '@/core/base/say'
import { cutInTwo } from '@/core/kernels/exact/divide'
import { normalize } from '@/core/math/vec'
import { bodyRef, choice, direction, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'

export const cutByPlane = defineStep({
  kind: 'build/cut-by-plane',
  version: 1,
  title: 'Cut by plane',
  order: 54,
  past: 'Cut',
  group: 'Booleans',
  facts: shown('volume', 'faces'),
  summary: 'Cuts a solid or sheet by a plane and keeps one side or both; exact. Meshes are cut by Trim.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef({ can: 'exact' }, 'Body'),
    at: point('Plane through', { pick: 'face' }).default([0, 0, 0]),
    normal: direction('Side A is towards').default([0, 0, 1]),
    keep: choice('Keep', ['a', 'b', 'both'], { a: 'side A', b: 'side B', both: 'both' }).default('a'),
    name: newBody('Name of side B', { base: 'side B', when: { field: 'keep', is: ['both'] } }).default('side B'),
  }),
  async run({ settings: s, exact, names }) {
    if (s.keep === 'both') freeName(names, s.name)
    const whole = exact(s.body)
    const { a, b } = await cutInTwo(whole, s.at, normalize(s.normal))
    const differ = whole.kind === 'solid' ? piecesDiffer(whole.facts.volume, [a.facts.volume, b.facts.volume]) : null
    const kept = s.keep === 'b' ? b : a
    const bodies: Record<string, Body> = { [s.body]: kept, ...(s.keep === 'both' ? { [s.name]: b } : {}) }
    return {
      bodies,
      ...(differ ? { warnings: [differ] } : {}),
      facts: { volume: kept.facts.volume, faces: kept.facts.faces, sideA: a.facts.volume, sideB: b.facts.volume },
      said:
        s.keep === 'both'
          ? `A ${volumeText(a.facts.volume)}, B ${volumeText(b.facts.volume)}`
          : `kept side ${s.keep.toUpperCase()} · ${volumeText(kept.facts.volume)}`,
    }
  },
})
