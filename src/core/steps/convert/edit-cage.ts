import { z } from 'zod'
import { mm, plural } from '@/core/base/say'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { StepError } from '@/core/base/step-error'
import { cageBody, isCage } from '@/core/bodies/body'
import { applyEdits } from '@/core/cage/edit/apply'
import { limitSkin } from '@/core/kinds/cage'
import { Ground } from '@/core/net/relax-quads'
import { deviation } from '@/core/prove/deviation'
import { cageTopology } from '@/core/subdivision/subdivide'
import { bodyRef, cageEdits } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { fineSkin } from './fine-skin'

export const editCage = defineStep({
  kind: 'convert/edit-cage',
  version: 1,
  title: 'Edit cage',
  order: 61.5,
  past: 'Edited',
  group: ['Freeform', 'Cages'],
  slow: true,
  facts: shown(
    'faces',
    { key: 'edits', label: 'Edits', as: 'count' },
    { key: 'creases', label: 'Creased edges', as: 'count', some: true },
    { key: 'deviation.max', label: 'Off by at most', as: 'length' },
    { key: 'deviation.p95', label: '95 % within', as: 'length' },
    { key: 'deviation.rms', label: 'Rms', as: 'length' },
  ),
  summary:
    'Moves, extrudes, cuts, joins and sharpens points, edges and faces of a cage by hand; the smooth surface follows at once.',
  subject: (s) => String(s.body),
  settings: z.object({
    body: bodyRef('cage', 'Cage'),
    scan: bodyRef(['mesh', 'solid', 'sheet'], 'Scan', {
      changes: false,
      listed: true,
      help: 'what points are snapped and fitted to, and what the distance is measured to',
    }).optional(),
    edits: cageEdits('Edits').default([]),
  }),
  async run({ settings: s, body, surface, work }) {
    const from = body(s.body)
    if (!isCage(from))
      throw new StepError('wrong-kind', `"${s.body}" is no cage.`, {
        where: { body: s.body },
        tryThis: 'Make a cage of it by Cage.',
      })
    const scan = s.scan ? await fineSkin({ body, surface }, s.scan) : null
    const cage = applyEdits(from.cage, s.edits, scan && new Ground(scan), span(work, 0, scan ? 0.7 : 1))
    const off = scan ? deviation(limitSkin(cage).mesh, scan, undefined, span(work, 0.7, 1)) : null
    const faces = cage.quads.length / 4
    return {
      bodies: { [s.body]: cageBody(cage) },
      facts: {
        faces,
        edits: s.edits.length,
        creases: cage.creases.size,
        closed: cageTopology(cage).twin.every((t) => t >= 0),
        ...(off ? { deviation: off.both as unknown as Facts, histogram: off.histogram as unknown as Facts } : {}),
      },
      said: `${plural(s.edits.length, 'edit')} · ${plural(faces, 'face')}${off ? ` · off "${s.scan}" by at most ${mm(off.both.max, 3)}, 95 % within ${mm(off.both.p95, 3)}` : ''}`,
    }
  },
})
