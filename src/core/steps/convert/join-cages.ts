import { z } from 'zod'
import { plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { cageBody, isCage, type Body } from '@/core/bodies/body'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import type { Cage } from '@/core/subdivision/subdivide'
import { bodyRefs } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

/** Cages side by side in one. */
export function sideBySide(cages: readonly Cage[]): Cage {
  const positions: number[] = []
  const quads: number[] = []
  const creases = new Map<number, number>()
  const corners = new Map<number, number>()
  for (const c of cages) {
    const from = positions.length / 3
    for (const x of c.positions) positions.push(x)
    for (const v of c.quads) quads.push(v + from)
    for (const [key, s] of c.creases) {
      const [a, b] = endsOfKey(key)
      creases.set(edgeKey(a + from, b + from), s)
    }
    for (const [v, s] of c.corners) corners.set(v + from, s)
  }
  return { positions: Float64Array.from(positions), quads: Uint32Array.from(quads), creases, corners }
}

export const joinCages = defineStep({
  kind: 'convert/join-cages',
  version: 1,
  title: 'Join cages',
  order: 61.6,
  past: 'Joined',
  group: 'Cages',
  live: true,
  facts: shown('faces'),
  summary: 'Puts cages into one, side by side: their rims can then be bridged or welded by Edit cage.',
  settings: z.object({ bodies: bodyRefs('cage', 'Cages', { least: 2 }) }),
  run({ settings: s, body }) {
    if (new Set(s.bodies).size !== s.bodies.length)
      throw new StepError('same-body', 'The same cage is picked twice.', { tryThis: 'Pick another.' })
    const cages = s.bodies.map((n) => {
      const b = body(n)
      if (!isCage(b)) throw new StepError('wrong-kind', `"${n}" is no cage.`, { where: { body: n } })
      return b.cage
    })
    const all = sideBySide(cages)
    const bodies: Record<string, Body | null> = { [s.bodies[0]]: cageBody(all) }
    for (const n of s.bodies.slice(1)) bodies[n] = null
    const faces = all.quads.length / 4
    return Promise.resolve({
      bodies,
      facts: { faces, bodies: s.bodies.length },
      said: `${plural(cages.length, 'cage')} as one · ${plural(faces, 'face')}`,
    })
  },
})
