import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { offsetFaces } from '@/core/kernels/exact/faces'
import { stemOf } from '@/core/kernels/exact/names'
import { shellBody } from '@/core/kernels/exact/shell'
import { bodyRef, choice, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

/** The walls behind some flat faces made thicker or thinner: their far faces move. Throws StepError `not-flat`. */
async function otherWalls(body: ExactBody, names: readonly string[], by: number): Promise<ExactBody> {
  // Those that stand off the body's own faces by the wall, inside or outside, move.
  const wanted = names.map((n) => `inner(${n})`)
  const moved = body.parts.faces.flatMap((f, i) => (wanted.includes(stemOf(f.name)) ? [i] : []))
  if (moved.length < names.length)
    throw new StepError(
      'no-part',
      `The wall behind "${names.find((n, i) => !body.parts.faces.some((f) => stemOf(f.name) === wanted[i]))}" was not found after shelling.`,
      {
        tryThis: 'Shell with one wall, then move its inner face by Offset face.',
      },
    )
  return by ? offsetFaces(body, moved, by) : body
}

export const shell = defineStep({
  kind: 'build/shell',
  version: 3,
  title: 'Shell',
  order: 74,
  past: 'Shelled',
  group: 'Walls',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Hollows a solid, or a mesh of flat faces, to a wall, open at the faces picked.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    open: faceRefs('Open faces', { help: 'none: a closed hollow' }).optional(),
    wall: lengthMm('Wall', { min: 1e-3 }).default(2),
    side: choice('Wall lies', ['in', 'out'], { in: 'inside', out: 'outside' }).default('in'),
    faces2: faceRefs('Faces with another wall', { more: true, help: 'flat ones' }).optional(),
    wall2: lengthMm('Their wall', { min: 1e-3, more: true }).default(3),
  }),
  async run({ settings: s, body, work }) {
    const on = await featureBody(s.body, body(s.body), work)
    const open = s.open ? on.faces(s.open) : []
    const other = s.faces2 ? on.faces(s.faces2).filter((i) => !open.includes(i)) : []
    const plain = await shellBody(on.exact, open, s.wall, s.side === 'out')
    const names = other.map((i) => on.exact.parts.faces[i].name)
    const done = names.length ? await otherWalls(plain, names, s.wall2 - s.wall) : plain
    return changed(
      s.body,
      on,
      done,
      `wall ${num(s.wall)} mm${names.length ? `, ${num(s.wall2)} mm at ${plural(names.length, 'face')}` : ''}, ${open.length ? `open at ${plural(open.length, 'face')}` : 'closed'}`,
    )
  },
})
