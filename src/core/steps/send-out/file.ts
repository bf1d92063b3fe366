import { z } from 'zod'
import { bodyRefs, choice, lengthMm, outFile } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, num, plural } from '@/core/base/say'
import { writeFile } from '@/core/formats/write'
import { writeStep } from '@/core/kernels/exact/step-file'
import { can, kindOf } from '@/core/kinds/registry'
import { defaultChord } from '@/core/join/boolean'
import { buildTopology } from '@/core/mesh/topology'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'

const endings: Record<string, string> = {
  stl: 'stl',
  obj: 'obj',
  ply: 'ply',
  off: 'off',
  '3mf': '3mf',
  step: 'step',
  stp: 'step',
}

export const sendOutFile = defineStep({
  kind: 'send-out/file',
  version: 1,
  title: 'Send out file',
  order: 10,
  past: 'Sent out',
  slow: true,
  facts: shown('triangles', 'chordToleranceMm', 'bytes'),
  summary: 'Writes bodies to STL, OBJ, PLY, OFF, 3MF or STEP; the format follows the ending of the file name.',
  settings: z.object({
    bodies: bodyRefs('any', 'Bodies', { changes: false, all: true }),
    file: outFile(),
    stl: choice('STL as', ['binary', 'text'], { binary: 'binary', text: 'ASCII' }, { more: true }).default('binary'),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies in a mesh file; left empty: from the size',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, body, exact, surface, work }) {
    const format = endings[/\.([a-z0-9]+)$/i.exec(s.file)?.[1].toLowerCase() ?? '']
    if (!format)
      throw new StepError('unknown-format', `"${s.file}" does not end in a known format.`, {
        tryThis: 'End the name in .stl, .obj, .ply, .off, .3mf or .step.',
      })
    const named = s.bodies.map((name) => ({ name, body: body(name) }))
    const kb = (n: number) => (n >= 1e6 ? `${num(n / 1e6, 1)} MB` : `${num(n / 1e3, 1)} kB`)
    if (format === 'step') {
      const other = named.find((n) => !can(kindOf(n.body), 'exact'))
      if (other)
        throw new StepError(
          'wrong-kind',
          `"${other.name}" is a ${kindOf(other.body).title}; STEP holds exact bodies only.`,
          { where: { body: other.name }, tryThis: 'Send meshes out as 3MF or STL.' },
        )
      const bytes = await writeStep(s.bodies.map((name) => ({ name, body: exact(name) })))
      return {
        bodies: {},
        facts: { format, bytes: bytes.length, bodies: named.length },
        files: [{ name: s.file, bytes }],
        said: `${s.file} · ${plural(named.length, 'solid')} · ${kb(bytes.length)}`,
      }
    }
    const chord = s.chord ?? defaultChord(named)
    const warnings: string[] = []
    const parts = []
    for (const n of named) {
      work.progress(parts.length / named.length, `preparing ${n.name}`)
      parts.push({ name: n.name, mesh: (await surface(n.name, chord)).mesh })
    }
    for (const p of parts) {
      const open = buildTopology(p.mesh).openEdges
      if (open) warnings.push(`"${p.name}" is open (${many(open)} open edges): most printers need a closed skin.`)
    }
    const bytes = writeFile(format, parts, s.stl)
    const triangles = concatMeshes(parts.map((p) => p.mesh)).triangles.length / 3
    return {
      bodies: {},
      warnings,
      facts: {
        format,
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
