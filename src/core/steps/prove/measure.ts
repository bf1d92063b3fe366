import { z } from 'zod'
import type { Touch } from '@/core/find/touch'
import { touched } from '@/core/find/touched'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { shownSkin } from '@/core/kinds/registry'
import { bodyRef, choice, direction, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { measure as run, measureKinds } from '@/core/prove/measure'

const words = {
  distance: 'distance',
  faces: 'face to face',
  diameter: 'diameter',
  angle: 'angle',
  wall: 'wall',
  rim: 'rim length',
}

const means = {
  by: 'what',
  of: {
    distance: ['point', 'axis'],
    faces: ['plane'],
    diameter: ['axis'],
    angle: ['plane', 'axis', 'line'],
    wall: ['point'],
    rim: ['point'],
  },
} as const

export const measure = defineStep({
  kind: 'prove/measure',
  version: 2,
  title: 'Measure',
  order: 20,
  past: 'Measured',
  facts: shown('value', 'x', 'y', 'z', 'along', 'across', 'outOfParallel', 'edges'),
  summary:
    'Distance with its parts along x, y and z, faces, bores, angles, walls and rims; the mark stays with the job.',
  settings: z.object({
    what: choice('What', measureKinds, words).default('distance'),
    body: bodyRef({ can: 'surface' }, 'On body', { changes: false }),
    from: touch('Place', { on: 'body', means }),
    other: bodyRef({ can: 'surface' }, 'Other body', {
      changes: false,
      when: { field: 'what', is: ['distance', 'faces', 'angle'] },
      help: 'left empty: the same body',
    }).optional(),
    to: touch('Second place', {
      on: 'other',
      same: 'body',
      means,
      when: { field: 'what', is: ['distance', 'faces', 'angle'] },
    }).optional(),
    along: direction('Part along', { when: { field: 'what', is: ['distance'] }, more: true }).optional(),
  }),
  run({ settings: s, body }) {
    const first = shownSkin(body(s.body))
    const second = s.other && s.other !== s.body ? shownSkin(body(s.other)) : first
    // Exact faces tell their own form, also where a mesh came from them.
    const resolve = (mesh: TriMesh, at: Touch) => {
      const name = mesh === first ? s.body : s.other!
      return touched(name, body(name), at, mesh)
    }
    const m = run(s.what, first, s.from, second, s.to, s.along, resolve)
    const parts =
      s.what === 'distance'
        ? ` · x ${num(m.facts.x as number, 3)}  y ${num(m.facts.y as number, 3)}  z ${num(m.facts.z as number, 3)}${m.facts.along !== undefined ? ` · along ${num(m.facts.along as number, 3)}` : ''}`
        : s.what === 'faces' && !m.facts.parallel
          ? ` · ${num(m.facts.outOfParallel as number, 2)}° out of parallel`
          : ''
    return Promise.resolve({
      bodies: {},
      facts: { what: s.what, value: m.value, unit: m.unit, ...m.facts, markFrom: m.from, markTo: m.to },
      warnings:
        s.what === 'faces' && !m.facts.parallel
          ? ['The faces are not parallel: the distance is taken where the first one was touched.']
          : [],
      said: `${words[s.what]} ${num(m.value, 3)}${m.unit === '°' ? '°' : ' mm'}${parts}`,
    })
  },
})
