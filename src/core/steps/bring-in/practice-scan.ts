import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { angleDeg, bodyRef, choice, count, lengthMm, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { mm, plural, sizeText } from '@/core/base/say'
import { boundsSize, diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { practiceShape, practiceShapeLabels, practiceShapes } from '@/core/scan/shapes'
import { rangeScan } from '@/core/scan/range-scan'
import { StepError } from '@/core/base/step-error'

export const practiceScan = defineStep({
  kind: 'bring-in/practice-scan',
  version: 1,
  title: 'Practice scanner',
  order: 20,
  past: 'Scanned',
  slow: true,
  facts: shown('triangles', 'size'),
  summary:
    'Scans a practice part or a body on the bench with a simulated head that circles it: true holes, noise and stray echoes.',
  settings: z.object({
    part: choice('Part', [...practiceShapes, 'body'], { ...practiceShapeLabels, body: 'a body on the bench' }).default(
      'grip',
    ),
    body: bodyRef({ can: 'surface' }, 'Body to scan', {
      changes: false,
      when: { field: 'part', is: ['body'] },
    }).optional(),
    name: newBody('Name', { base: 'scan' }),
    stations: count('Stations', { min: 1, max: 64 }).default(14),
    resolution: angleDeg('Angle between rays', { min: 0.01, max: 5 }).default(0.1),
    noise: lengthMm('Noise (sigma)', { max: 5 }).default(0.03),
    grazing: angleDeg('Nothing returns beyond', { min: 10, max: 89.9, more: true }).default(72),
    strays: count('Stray echoes a station', { max: 500, more: true }).default(5),
    detail: lengthMm('Detail', {
      min: 0.01,
      max: 50,
      help: 'Left empty: a 270th of the diagonal',
      more: true,
    }).optional(),
    seed: count('Seed', { max: 1e6, more: true }).default(1),
  }),
  async run({ settings: s, surface, names, work }) {
    freeName(names, s.name)
    let part: TriMesh
    if (s.part === 'body') {
      if (!s.body)
        throw new StepError('no-body', 'No body to scan is chosen.', { tryThis: 'Pick a body, or a practice part.' })
      part = (await surface(s.body, 0.01)).mesh
    } else part = await practiceShape(s.part)
    const detail = s.detail ?? diagonal(meshBounds(part)) / 270
    const mesh = rangeScan(
      part,
      {
        stations: s.stations,
        resolution: s.resolution,
        noise: s.noise,
        grazing: s.grazing,
        strays: s.strays,
        detail,
        seed: s.seed,
      },
      work,
    )
    if (!triangleCount(mesh))
      throw new StepError('empty-result', 'Nothing came back to the scanner.', {
        tryThis: 'Use more stations, a finer angle or a finer detail.',
      })
    const size = boundsSize(meshBounds(mesh))
    return {
      bodies: { [s.name]: meshBody(mesh) },
      facts: { triangles: triangleCount(mesh), size, detailMm: detail, stations: s.stations },
      said: `${plural(triangleCount(mesh), 'triangle')} · ${sizeText(size)} · noise ${mm(s.noise, 3)}`,
    }
  },
})
