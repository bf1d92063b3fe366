import { z } from 'zod'
import { mm, plural } from '@/core/base/say'
import { cageBody } from '@/core/bodies/body'
import { layOn as laidOn } from '@/core/cage/lay-on'
import { limitSkin } from '@/core/kinds/cage'
import { standing } from '@/core/math/affine'
import { figuresOf, referenceOf, sampleDeviation } from '@/core/gauge/deviation'
import { angleDeg, bodyRef, count, direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { fineSkin } from './fine-skin'

export const layOn = defineStep({
  kind: 'convert/lay-on',
  version: 1,
  title: 'Lay on',
  order: 61.4,
  past: 'Laid a cage on',
  group: 'Cages',
  subject: (s) => String(s.body),
  facts: shown(
    'faces',
    { key: 'max', label: 'Off the body by at most', as: 'length' },
    { key: 'rms', label: 'Rms', as: 'length' },
    { key: 'missed', label: 'Places beside the body', as: 'count', some: true },
  ),
  summary: 'Lays a sheet of rows and columns on a scan, straight down on to it, as an open cage that runs through it.',
  settings: z.object({
    body: bodyRef({ can: 'surface' }, 'Scan', { changes: false }),
    at: point('Middle of the sheet', { pick: 'face', on: 'body' }).default([0, 0, 0]),
    axis: direction('Away from the scan').default([0, 0, 1]),
    turn: angleDeg('Turned').default(0),
    width: lengthMm('Width', { min: 1e-3 }).default(20),
    depth: lengthMm('Depth', { min: 1e-3 }).default(20),
    columns: count('Columns', { min: 1, max: 200 }).default(6),
    rows: count('Rows', { min: 1, max: 200 }).default(6),
    name: newBody('Name', { base: 'cage' }),
  }),
  async run({ settings: s, body, surface, names }) {
    freeName(names, s.name)
    const scan = await fineSkin({ body, surface }, s.body)
    const [x, , normal] = standing(s.axis, s.turn)
    const { cage, missed } = laidOn(scan, { ...s, normal, x })
    const off = figuresOf(sampleDeviation(limitSkin(cage).mesh, referenceOf(scan), 20_000))
    const faces = cage.quads.length / 4
    return {
      bodies: { [s.name]: cageBody(cage) },
      facts: { faces, missed, max: off.max, rms: off.rms, p95: off.p95 },
      said: `${plural(faces, 'face')} · off "${s.body}" by at most ${mm(off.max, 3)}, rms ${mm(off.rms, 4)}`,
      ...(missed
        ? { warnings: [`${plural(missed, 'place')} of the sheet had nothing under it and lies at the nearest skin.`] }
        : {}),
    }
  },
})
