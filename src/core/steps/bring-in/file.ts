import { z } from 'zod'
import { inColour, meshBody, netBody } from '@/core/bodies/body'
import type { Body, SourceTags } from '@/core/bodies/body'
import { choice, fileRef, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName, namer } from '@/core/step/step'
import { many, plural, sizeText } from '@/core/base/say'
import { readObjFaces } from '@/core/formats/obj'
import { readMeshFile } from '@/core/formats/read'
import { tooMuch } from '@/core/formats/limits'
import { formatOf } from '@/core/formats/registry'
import { unitNames, unitsInMm, type Unit } from '@/core/formats/units'
import { scaling } from '@/core/math/affine'
import { quadFigures, quadsOfFaces } from '@/core/mesh/quad-mesh'
import { buildTopology } from '@/core/mesh/topology'
import { boundsSize, concatMeshes, meshBounds, transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { moveBody, sizeOf } from '@/core/kinds/registry'
import { StepError } from '@/core/base/step-error'
import { flatBodies } from '../flat-bodies'

/** Joins what differs only in the last digits, when that closes rims that bit-equal welding left open. */
function weldIfOpen(mesh: TriMesh): { mesh: TriMesh; joined: number } {
  const open = buildTopology(mesh).openEdges
  if (!open) return { mesh, joined: 0 }
  const welded = weldMesh(mesh)
  return welded.joined && buildTopology(welded.mesh).openEdges < open ? welded : { mesh, joined: 0 }
}

/** A net of an OBJ file's faces; those that are no quads are divided, all others with them. */
function netFromObj(bytes: Uint8Array, unit: Unit, name: string) {
  const { positions, faces, notes } = readObjFaces(bytes)
  const { net, divided } = quadsOfFaces(positions, faces)
  const factor = unitsInMm[unit]
  const body = netBody({ ...net, positions: net.positions.map((v) => v * factor) })
  const other = faces.filter((f) => f.length !== 4).length
  const figures = quadFigures(body.net)
  const size = sizeOf(body)
  return {
    bodies: { [name]: body },
    warnings: [
      ...notes.map((n) => `${n[0].toUpperCase()}${n.slice(1)}.`),
      ...(divided ? [`${plural(other, 'face')} had not four corners: every face was divided once.`] : []),
    ],
    facts: {
      format: 'obj',
      unit,
      quads: figures.quads,
      vertices: figures.vertices,
      closed: figures.closed,
      divided,
      size,
    },
    said: `${plural(figures.quads, 'quad')} · ${sizeText(size)}${unit === 'mm' ? '' : ` · read as ${unit}`}`,
  }
}

/** Bodies that one file may bring on to the bench, each apart. */
const mostBodies = 1000

export const bringInFile = defineStep({
  kind: 'bring-in/file',
  version: 5,
  title: 'Open files',
  order: 10,
  past: 'Brought in',
  facts: shown(
    'triangles',
    { key: 'quads', label: 'Quads', as: 'count', some: true },
    'vertices',
    { key: 'curves', label: 'Curves', as: 'count', some: true },
    { key: 'loops', label: 'Closed loops', as: 'count', some: true },
    { key: 'openRuns', label: 'Open runs', as: 'count', some: true },
    'size',
    'joined',
  ),
  namesItself: true,
  // Several times what an honest file of the size takes on a slow machine.
  patience: (bytes) => 30_000 + (4000 * bytes) / 2 ** 20,
  summary: 'Brings a mesh, STEP, DXF or SVG file on to the bench in a chosen unit.',
  settings: z.object({
    file: fileRef(),
    unit: choice('Unit', ['auto', ...unitNames], {
      auto: 'as the file says',
      mm: 'mm',
      cm: 'cm',
      inch: 'inch',
      m: 'm',
      foot: 'foot',
      micron: 'micron',
    }).default('auto'),
    name: newBody(),
    parts: choice(
      'Several bodies in the file',
      ['auto', 'together', 'apart'],
      { auto: 'as the format means it', together: 'one body', apart: 'a body each' },
      { more: true },
    ).default('auto'),
    as: choice('Quads as', ['mesh', 'net'], { mesh: 'mesh of triangles', net: 'net' }, { more: true }).default('mesh'),
  }),
  async run({ settings, file, names, work }) {
    const bytes = await file(settings.file)
    work.progress(0.1, 'reading')
    const notes: string[] = []
    const format = formatOf(bytes, settings.file)
    if (format?.holds === 'outlines')
      return flatBodies(format.read(bytes), settings.unit, settings.parts === 'apart', settings.name, names)
    if (format?.holds === 'exact bodies') {
      const solids = await format.read(bytes, settings.name, work)
      const factor = settings.unit === 'auto' ? 1 : unitsInMm[settings.unit]
      const bodies: Record<string, Body> = {}
      for (const [i, s] of solids.entries())
        bodies[freeName(names, solids.length === 1 ? settings.name : `${settings.name} ${i + 1}`)] =
          factor === 1 ? s : await moveBody(s, scaling(factor))
      const size = sizeOf(Object.values(bodies)[0])
      return {
        bodies,
        facts: { format: format.name, bodies: solids.length, unit: 'mm', size },
        warnings: notes,
        said: `${plural(solids.length, solids.some((b) => b.kind === 'sheet') ? 'body' : 'solid', solids.some((b) => b.kind === 'sheet') ? 'bodies' : 'solids')} · ${sizeText(size)}`,
      }
    }
    if (settings.as === 'net') {
      if (format?.name !== 'obj')
        throw new StepError('no-quads', `"${settings.file}" is no OBJ file; only those hold quads.`, {
          tryThis: 'Bring it in as a mesh, and make a net of it by Quad net.',
        })
      return netFromObj(bytes, settings.unit === 'auto' ? 'mm' : settings.unit, freeName(names, settings.name))
    }
    const model = readMeshFile(bytes, settings.file)
    notes.push(...model.notes.map((n) => `${n[0].toUpperCase()}${n.slice(1)}.`))
    const unit: Unit = settings.unit === 'auto' ? (model.unit ?? 'mm') : settings.unit
    if (settings.unit !== 'auto' && model.unit && model.unit !== unit)
      notes.push(`The file states ${model.unit}; ${unit} was chosen.`)
    const factor = unitsInMm[unit]
    const apart =
      model.parts.length > 1 && (settings.parts === 'apart' || (settings.parts === 'auto' && model.format === '3mf'))
    const placed = model.parts.map((p) => ({
      name: p.name,
      colour: p.colour,
      mesh: factor === 1 ? p.mesh : transformMesh(p.mesh, scaling(factor)),
    }))
    work.progress(0.5, 'welding')
    const bodies: Record<string, Body> = {}
    let triangles = 0,
      vertices = 0,
      joined = 0
    const whole = meshBounds(concatMeshes(placed.map((p) => p.mesh)))
    const raw = placed.reduce((s, p) => s + triangleCount(p.mesh), 0)
    if (!raw) throw new StepError('empty', `"${settings.file}" holds no triangles.`)
    const fresh = (mesh: TriMesh) => {
      const w = weldIfOpen(mesh)
      joined += w.joined
      triangles += triangleCount(w.mesh)
      vertices += w.mesh.positions.length / 3
      return w.mesh
    }
    if (apart) {
      if (placed.length > mostBodies) throw tooMuch('bodies', mostBodies)
      const name = namer(names)
      for (const p of placed) bodies[name(p.name)] = inColour(meshBody(fresh(p.mesh)), p.colour)
    } else {
      const mesh = fresh(concatMeshes(placed.map((p) => p.mesh)))
      const tags: SourceTags | undefined =
        placed.length > 1 && triangleCount(mesh) === raw
          ? {
              names: placed.map((p) => p.name),
              source: Uint32Array.from(placed.flatMap((p, i) => new Array<number>(triangleCount(p.mesh)).fill(i))),
              face: Uint32Array.from({ length: raw }, (_, t) => t),
            }
          : undefined
      // Together they have a colour when all have the same.
      const colour = placed.every((p) => p.colour === placed[0].colour) ? placed[0].colour : undefined
      bodies[freeName(names, settings.name)] = inColour(meshBody(mesh, tags), colour)
    }
    if (triangles > 1_000_000) notes.push(`${many(triangles)} triangles are more than most work needs.`)
    const size = boundsSize(whole)
    const inUnits = Object.fromEntries(
      unitNames.map((u) => [u, size.map((v) => Number(((v / factor) * unitsInMm[u]).toPrecision(7)))]),
    )
    return {
      bodies,
      warnings: notes,
      facts: {
        format: model.format,
        unit,
        stated: model.unit ?? null,
        parts: model.parts.length,
        triangles,
        vertices,
        joined,
        size,
        sizeInUnits: inUnits,
      },
      said: `${plural(triangles, 'triangle')} · ${sizeText(size)}${settings.unit === 'auto' && !model.unit ? '' : ` · read as ${unit}`}`,
    }
  },
})
