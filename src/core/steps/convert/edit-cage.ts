import { z } from 'zod'
import { mm, plural } from '@/core/base/say'
import { span } from '@/core/base/work'
import type { Facts } from '@/core/base/facts'
import { StepError } from '@/core/base/step-error'
import { cageBody, isCage } from '@/core/bodies/body'
import { applyEdits } from '@/core/cage/edit/apply'
import { sideBySide } from '@/core/cage/side-by-side'
import { limitSkin } from '@/core/kinds/cage'
import { Ground } from '@/core/net/relax-quads'
import { deviation } from '@/core/gauge/deviation'
import { cageTopology } from '@/core/subdivision/subdivide'
import { bodyRef, bodyRefs, cageEdits } from '@/core/step/fields'
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
    joined: bodyRefs('cage', 'Joined to it', {
      listed: true,
      least: 0,
      more: true,
      besides: 'body',
      help: 'cages that become part of this one, to be bridged or welded to it',
    }).default([]),
    edits: cageEdits('Edits').default([]),
  }),
  async run({ settings: s, body, surface, work }) {
    if (s.joined.includes(s.body) || new Set(s.joined).size !== s.joined.length)
      throw new StepError('same-body', 'The same cage is picked twice.', { tryThis: 'Pick another.' })
    const [own, ...others] = [s.body, ...s.joined].map((name) => {
      const b = body(name)
      if (isCage(b)) return b.cage
      throw new StepError('wrong-kind', `"${name}" is no cage.`, {
        where: { body: name },
        tryThis: 'Make a cage of it by Cage.',
      })
    })
    const from = others.length ? sideBySide([own, ...others]) : own
    const scan = s.scan ? await fineSkin({ body, surface }, s.scan) : null
    const cage = applyEdits(from, s.edits, scan && new Ground(scan), span(work, 0, scan ? 0.7 : 1))
    const off = scan ? deviation(limitSkin(cage).mesh, scan, undefined, span(work, 0.7, 1)) : null
    const faces = cage.quads.length / 4
    return {
      bodies: { [s.body]: cageBody(cage), ...Object.fromEntries(s.joined.map((name) => [name, null])) },
      facts: {
        faces,
        edits: s.edits.length,
        creases: cage.creases.size,
        closed: cageTopology(cage).twin.every((t) => t >= 0),
        ...(off ? { deviation: off.both as unknown as Facts, histogram: off.histogram as unknown as Facts } : {}),
      },
      said: `${others.length ? `${plural(others.length + 1, 'cage')} as one · ` : ''}${plural(s.edits.length, 'edit')} · ${plural(faces, 'face')}${off ? ` · off "${s.scan}" by at most ${mm(off.both.max, 3)}, 95 % within ${mm(off.both.p95, 3)}` : ''}`,
    }
  },
})
