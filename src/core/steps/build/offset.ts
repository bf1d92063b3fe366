import { z } from 'zod'
import { isMesh, meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, newBody, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { areaText, many, mm, volumeText } from '@/core/base/say'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { resolveRegion } from '@/core/find/region'
import { parallelSkin } from '@/core/skin/parallel-skin'
import { StepError } from '@/core/base/step-error'
import { offsetSheet } from '@/core/kernels/exact/sheets'
import { span } from '@/core/base/work'
import { offsetEdge, offsetMesh, requireSound } from '@/core/skin/offset'

export const offset = defineStep({
  kind: 'build/offset',
  version: 4,
  title: 'Offset',
  order: 70,
  past: 'Offset',
  group: 'Walls',
  slow: true,
  facts: shown('triangles', 'volume', 'volumeChange', 'area', 'offByMm', 'edgeMm'),
  namesItself: true,
  summary:
    'Grows or shrinks a closed mesh by a distance, without self-crossings; of a picked area or a sheet it makes a parallel skin.',
  settings: z.object({
    body: bodyRef(['mesh', 'sheet'], 'Body'),
    by: lengthMm('By', { min: -1e4, max: 1e4, help: 'below zero shrinks' }).default(1),
    whole: toggle('The whole body').default(true),
    region: regionRef('Area', { when: { field: 'whole', is: [false] } }).optional(),
    corners: choice(
      'Corners',
      ['sharp', 'round'],
      { sharp: 'sharp', round: 'round' },
      {
        when: { field: 'whole', is: [true] },
      },
    ).default('sharp'),
    edge: lengthMm('Edge length where laid anew', {
      min: 1e-4,
      help: 'left empty: from the size',
      more: true,
    }).optional(),
    keep: toggle('Keep the body as well', { when: { field: 'whole', is: [true] } }).default(false),
    name: newBody('Name of the new one', { when: { field: 'keep', is: [true] } }).optional(),
  }),
  async run({ settings: s, body, mesh, exact, names, work }) {
    if (s.by === 0) throw new StepError('nothing', 'An offset of 0 changes nothing.', { tryThis: 'Type a distance.' })
    if (!isMesh(body(s.body))) {
      const sheet = await offsetSheet(exact(s.body), s.by)
      const name = s.keep ? freeName(names, s.name ?? `${s.body} offset`) : s.body
      return {
        bodies: { [name]: sheet },
        facts: { area: sheet.facts.area, faces: sheet.facts.faces },
        said: `by ${mm(s.by)} · ${areaText(sheet.facts.area)} · exact`,
      }
    }
    const m = mesh(s.body).mesh
    if (!s.whole) {
      const part = parallelSkin(
        m,
        resolveRegion(m, s.region ?? [], mesh(s.body).tags),
        s.by,
        s.edge ?? offsetEdge(m, s.by),
        work,
      )
      const name = freeName(names, s.name ?? `${s.body} offset`)
      return {
        bodies: { [name]: meshBody(part.mesh) },
        facts: { triangles: triangleCount(part.mesh), reskinned: part.reskinned },
        warnings: part.reskinned
          ? [
              `The area bends more tightly than ${mm(Math.abs(s.by))} in places, so its parallel skin was laid anew, with sharp seams there.`,
            ]
          : [],
        said: `a parallel skin at ${mm(s.by)} · ${many(triangleCount(part.mesh))} triangles`,
      }
    }
    requireSound(s.body, m, span(work, 0, 0.1))
    const edge = s.edge ?? offsetEdge(m, s.by)
    const { mesh: out, laid, miss } = offsetMesh(m, s.by, { edge, corners: s.corners }, span(work, 0.1, 1))
    if (!triangleCount(out))
      throw new StepError('empty-result', `Shrunk by ${mm(-s.by)}, nothing of "${s.body}" is left.`, {
        where: { body: s.body },
        tryThis: 'Choose a smaller distance.',
      })
    const name = s.keep ? freeName(names, s.name ?? `${s.body} offset`) : s.body
    return {
      bodies: { [name]: meshBody(out) },
      facts: {
        triangles: triangleCount(out),
        ...(laid ? { edgeMm: Number(edge.toFixed(6)) } : { offByMm: miss }),
        volumeBefore: meshVolume(m),
        volume: meshVolume(out),
        volumeChange: meshVolume(out) - meshVolume(m),
      },
      warnings: laid
        ? [
            `Moved by ${mm(s.by)}, the faces of "${s.body}" cross each other too much to be trimmed, so a new skin was laid with edges of ${mm(edge)}; its corners are round.`,
          ]
        : [],
      said: `by ${mm(s.by)} · ${volumeText(meshVolume(out))} · ${many(triangleCount(out))} triangles`,
    }
  },
})
