import { z } from 'zod'
import { bodyRefs, choice, lengthMm, outFile } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, num, plural, one } from '@/core/base/say'
import { flattened } from '@/core/formats/flat'
import { endingsInWords, formatByEnding } from '@/core/formats/registry'
import { stepSchemas } from '@/core/kernels/exact/step-file'
import { colourOf, isMesh, isNet, isOutline, type Body, type ExactBody } from '@/core/bodies/body'
import { exactRests } from '@/core/join/exact-borders'
import { canTrim, trimmedFaces } from '@/core/kernels/exact/trimmed'
import { placesOf } from '@/core/kinds/outline'
import { can, kindOf } from '@/core/kinds/registry'
import { defaultChord } from '@/core/join/boolean'
import { buildTopology } from '@/core/mesh/topology'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

/** Exact bodies as they are; of meshes the exact faces that they still show, as sheets. Throws StepError `wrong-kind`. */
async function forStep(named: readonly { name: string; body: Body }[], exact: (name: string) => ExactBody) {
  const sent: { name: string; body: ExactBody }[] = []
  const warnings: string[] = []
  for (const { name, body } of named) {
    if (can(kindOf(body), 'exact')) {
      sent.push({ name, body: exact(name) })
      continue
    }
    const rests = isMesh(body) ? exactRests(body) : []
    const known = rests.filter((r) => canTrim(r.face))
    const faces = known.length ? await trimmedFaces(known) : null
    if (!faces)
      throw new StepError(
        'wrong-kind',
        `"${name}" is ${one(kindOf(body).title)} without exact faces; STEP holds exact bodies only.`,
        { where: { body: name }, tryThis: 'Send meshes out as 3MF or STL, or make a solid of it by Facet solid.' },
      )
    sent.push({ name: `${name} faces`, body: faces.sheet })
    const left = rests.length - faces.built
    warnings.push(
      `"${name}" is a mesh: of it the file holds its ${plural(faces.built, 'exact face')}${left ? `, without ${many(left)} that are neither flat nor round` : ''}.`,
    )
  }
  return { sent, warnings }
}

export const sendOutFile = defineStep({
  kind: 'send-out/file',
  version: 3,
  title: 'Send out file',
  order: 10,
  past: 'Sent out',
  slow: true,
  facts: shown('triangles', 'chordToleranceMm', 'bytes'),
  summary:
    'Writes bodies to STL, OBJ, PLY, OFF, 3MF or STEP, outlines to DXF or SVG; the format follows the ending of the file name.',
  settings: z.object({
    bodies: bodyRefs('any', 'Bodies', { changes: false, all: true }),
    file: outFile(),
    stl: choice('STL as', ['binary', 'text'], { binary: 'binary', text: 'ASCII' }, { more: true }).default('binary'),
    version: choice('DXF as', ['R2000', 'R12'], { R2000: 'with splines', R12: 'release 12' }, { more: true }).default(
      'R2000',
    ),
    step: choice('STEP as', stepSchemas, { AP214: 'AP214', AP242: 'AP242' }, { more: true }).default('AP214'),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies in a mesh file, and splines in DXF release 12; left empty: from the size',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, body, exact, surface, work }) {
    const format = formatByEnding(s.file)
    if (!format)
      throw new StepError('unknown-format', `"${s.file}" does not end in a known format.`, {
        tryThis: `End the name in ${endingsInWords()}.`,
      })
    const named = s.bodies.map((name) => ({ name, body: body(name) }))
    const kb = (n: number) => (n >= 1e6 ? `${num(n / 1e6, 1)} MB` : `${num(n / 1e3, 1)} kB`)
    if (format.holds === 'exact bodies') {
      const { sent, warnings } = await forStep(named, exact)
      const { bytes, warnings: readBack } = await format.write(sent, { schema: s.step })
      return {
        bodies: {},
        warnings: [...warnings, ...readBack],
        facts: { format: format.name, bytes: bytes.length, bodies: named.length },
        files: [{ name: s.file, bytes }],
        said: `${s.file} · ${plural(named.length, 'body', 'bodies')} · read back and found ${readBack.length ? 'a little different' : 'right'} · ${kb(bytes.length)}`,
      }
    }
    if (format.holds === 'outlines') {
      const parts = named.map(({ name, body: b }) => {
        if (!isOutline(b))
          throw new StepError('wrong-kind', `"${name}" is ${one(kindOf(b).title)}; ${format.title} holds outlines.`, {
            where: { body: name },
            tryThis: 'Make a section line of it, and trace that.',
          })
        return flattened(
          name,
          b.plane,
          b.drawing,
          b.reference.map((r) => ({ places: placesOf(r), closed: r.closed })),
        )
      })
      const bytes = format.write(parts, { release: s.version, chord: s.chord ?? 0.01 })
      const curves = parts.reduce((sum, p) => sum + p.drawing.curves.length + p.rows.length, 0)
      return {
        bodies: {},
        facts: { format: format.name, bytes: bytes.length, bodies: parts.length, curves, unit: 'mm' },
        files: [{ name: s.file, bytes }],
        said: `${s.file} · ${plural(curves, 'curve')} · ${kb(bytes.length)}`,
      }
    }
    const chord = s.chord ?? defaultChord(named)
    const warnings: string[] = []
    const parts = []
    for (const n of named) {
      work.progress(parts.length / named.length, `preparing ${n.name}`)
      const colour = colourOf(n.body)
      parts.push({
        name: n.name,
        mesh: (await surface(n.name, chord)).mesh,
        ...(colour ? { colour } : {}),
        ...(isNet(n.body) ? { quads: n.body.net.quads } : {}),
      })
    }
    for (const p of parts) {
      const open = buildTopology(p.mesh).openEdges
      if (open) warnings.push(`"${p.name}" is open (${many(open)} open edges): most printers need a closed skin.`)
    }
    const bytes = format.write(parts, { text: s.stl === 'text' })
    const triangles = concatMeshes(parts.map((p) => p.mesh)).triangles.length / 3
    return {
      bodies: {},
      warnings,
      facts: {
        format: format.name,
        bytes: bytes.length,
        bodies: parts.length,
        triangles,
        unit: 'mm',
        ...(named.every((n) => kindOf(n.body).faceted) ? {} : { chordToleranceMm: chord }),
      },
      files: [{ name: s.file, bytes }],
      said: `${s.file} · ${plural(triangles, 'triangle')} · ${kb(bytes.length)}`,
    }
  },
})
