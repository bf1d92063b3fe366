import { z } from 'zod'
import { inColour, meshBody, netBody } from '@/core/bodies/body'
import type { Body, ExactBody, SourceTags } from '@/core/bodies/body'
import { choice, fileRef, newBody } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName, namer, type StepResult } from '@/core/step/step'
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
import { usableTriangles } from '@/core/mesh/usable'
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
  if (!positions.every(Number.isFinite))
    throw new StepError('damaged-file', 'The OBJ file holds corners whose coordinates are no numbers.', {
      tryThis: 'Bring it in as a mesh: the triangles at those corners are left out.',
    })
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

const settings = z.object({
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
})
type Settings = z.output<typeof settings>

/** Solids and sheets of a file, in mm. */
async function exactBodies(
  solids: readonly ExactBody[],
  format: string,
  { unit, name }: Settings,
  names: ReadonlySet<string>,
): Promise<StepResult> {
  const factor = unit === 'auto' ? 1 : unitsInMm[unit]
  const bodies: Record<string, Body> = {}
  for (const [i, s] of solids.entries())
    bodies[freeName(names, solids.length === 1 ? name : `${name} ${i + 1}`)] =
      factor === 1 ? s : await moveBody(s, scaling(factor))
  const size = sizeOf(Object.values(bodies)[0])
  const counted = solids.some((b) => b.kind === 'sheet')
    ? plural(solids.length, 'body', 'bodies')
    : plural(solids.length, 'solid')
  return {
    bodies,
    facts: { format, bodies: solids.length, unit: 'mm', size },
    said: `${counted} · ${sizeText(size)}`,
  }
}

/** Where each triangle of several parts comes from, when all of them are still there. */
function tagsOf(parts: readonly { name: string; mesh: TriMesh }[], mesh: TriMesh): SourceTags | undefined {
  const raw = parts.reduce((n, p) => n + triangleCount(p.mesh), 0)
  if (parts.length < 2 || triangleCount(mesh) !== raw) return undefined
  return {
    names: parts.map((p) => p.name),
    source: Uint32Array.from(parts.flatMap((p, i) => new Array<number>(triangleCount(p.mesh)).fill(i))),
    face: Uint32Array.from({ length: raw }, (_, t) => t),
  }
}

/** Meshes of a file, together or each by itself, in mm. */
function meshBodies(model: ReturnType<typeof readMeshFile>, s: Settings, names: ReadonlySet<string>): StepResult {
  const notes = model.notes.map((n) => `${n[0].toUpperCase()}${n.slice(1)}.`)
  const unit: Unit = s.unit === 'auto' ? (model.unit ?? 'mm') : s.unit
  if (s.unit !== 'auto' && model.unit && model.unit !== unit)
    notes.push(`The file states ${model.unit}; ${unit} was chosen.`)
  const factor = unitsInMm[unit]
  const apart = model.parts.length > 1 && (s.parts === 'apart' || (s.parts === 'auto' && model.format === '3mf'))
  const left = { notNumbers: 0, flat: 0 }
  const placed = model.parts.map((p) => {
    const { mesh, notNumbers, flat } = usableTriangles(factor === 1 ? p.mesh : transformMesh(p.mesh, scaling(factor)))
    left.notNumbers += notNumbers
    left.flat += flat
    return { name: p.name, colour: p.colour, mesh }
  })
  if (left.notNumbers)
    notes.push(`${plural(left.notNumbers, 'triangle')} with corners whose coordinates are no numbers left out.`)
  if (left.flat)
    notes.push(`${plural(left.flat, 'triangle')} with two corners in one place left out: they have no area.`)
  const together = concatMeshes(placed.map((p) => p.mesh))
  if (!triangleCount(together)) throw new StepError('empty', `"${s.file}" holds no triangles.`)
  const bodies: Record<string, Body> = {}
  const sum = { triangles: 0, vertices: 0, joined: 0 }
  const fresh = (mesh: TriMesh) => {
    const w = weldIfOpen(mesh)
    sum.joined += w.joined
    sum.triangles += triangleCount(w.mesh)
    sum.vertices += w.mesh.positions.length / 3
    return w.mesh
  }
  if (apart) {
    if (placed.length > mostBodies) throw tooMuch('bodies', mostBodies)
    const name = namer(names)
    for (const p of placed) bodies[name(p.name)] = inColour(meshBody(fresh(p.mesh)), p.colour)
  } else {
    const mesh = fresh(together)
    // Together they have a colour when all have the same.
    const colour = placed.every((p) => p.colour === placed[0].colour) ? placed[0].colour : undefined
    bodies[freeName(names, s.name)] = inColour(meshBody(mesh, tagsOf(placed, mesh)), colour)
  }
  const { triangles } = sum
  if (triangles > 1_000_000) notes.push(`${many(triangles)} triangles are more than most work needs.`)
  const size = boundsSize(meshBounds(together))
  const sizeInUnits = Object.fromEntries(
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
      ...sum,
      ...(left.notNumbers ? { notNumbers: left.notNumbers } : {}),
      ...(left.flat ? { withoutArea: left.flat } : {}),
      size,
      sizeInUnits,
    },
    said: `${plural(triangles, 'triangle')} · ${sizeText(size)}${s.unit === 'auto' && !model.unit ? '' : ` · read as ${unit}`}`,
  }
}

export const bringInFile = defineStep({
  kind: 'bring-in/file',
  version: 6,
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
  settings,
  async run({ settings: s, file, names, work }) {
    const bytes = await file(s.file)
    work.progress(0.1, 'reading')
    const format = formatOf(bytes, s.file)
    if (format?.holds === 'outlines') return flatBodies(format.read(bytes), s.unit, s.parts === 'apart', s.name, names)
    if (format?.holds === 'exact bodies')
      return exactBodies(await format.read(bytes, s.name, work), format.name, s, names)
    if (s.as === 'net') {
      if (format?.name !== 'obj')
        throw new StepError('no-quads', `"${s.file}" is no OBJ file; only those hold quads.`, {
          tryThis: 'Bring it in as a mesh, and make a net of it by Quad net.',
        })
      return netFromObj(bytes, s.unit === 'auto' ? 'mm' : s.unit, freeName(names, s.name))
    }
    const model = readMeshFile(bytes, s.file)
    work.progress(0.5, 'welding')
    return meshBodies(model, s, names)
  },
})
