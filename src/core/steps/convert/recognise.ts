import { z } from 'zod'
import { mm, num, plural } from '@/core/base/say'
import { span } from '@/core/base/work'
import { meshBody, type FacePart, type SourceTags } from '@/core/bodies/body'
import { recognise as run, type Region } from '@/core/fit/recognise'
import { corners, type TriMesh } from '@/core/mesh/tri-mesh'
import { bodyRef, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import type { Vec3 } from '@/core/math/vec'

/** What faces that were found in a mesh come from. */
const recognisedName = 'recognised'

/** A region's shape as the exact face that its triangles stand for. */
function faceOf(mesh: TriMesh, region: Region, name: string): FacePart | null {
  const s = region.shape
  if (!s) return null
  // A place well on it: the middle of one of its triangles.
  const t = region.triangles[region.triangles.length >> 1]
  const c = corners(mesh, t)
  const at = [0, 1, 2].map((k) => (c[0][k] + c[1][k] + c[2][k]) / 3) as unknown as Vec3
  const base = { name, at, area: region.area }
  switch (s.kind) {
    case 'plane':
      return { ...base, shape: 'plane', axis: s.axis! }
    case 'cylinder':
      return { ...base, shape: 'cylinder', axis: s.axis!, centre: s.at, radius: s.radius! }
    case 'cone':
      return { ...base, shape: 'cone', axis: s.axis!, centre: s.at }
    case 'sphere':
      return { ...base, shape: 'sphere', centre: s.at, radius: s.radius! }
    case 'ring':
      return { ...base, shape: 'torus', axis: s.axis!, centre: s.at, radius: s.radius! }
  }
}

/** The mesh with each triangle knowing the face it is of; what it knew of exact faces before stays. */
function tagged(mesh: TriMesh, regions: readonly Region[], of: Int32Array, before: SourceTags | undefined): SourceTags {
  const count: Record<string, number> = {}
  const faces = regions.map((r): FacePart | null => {
    const kind = r.shape?.kind ?? 'free'
    count[kind] = (count[kind] ?? 0) + 1
    return faceOf(mesh, r, `${kind} ${count[kind]}`)
  })
  // One source for what was found; triangles of no shape are told by the second.
  const known = faces.flatMap((f) => (f ? [f] : []))
  const number = faces.map((f) => (f ? known.indexOf(f) : -1))
  const names = [...(before?.names ?? []), recognisedName, 'not recognised']
  // What was recognised before is found anew; only faces that came from exact bodies stay.
  const stays = (source: number) => before?.names[source] !== recognisedName
  const [mine, none] = [names.length - 2, names.length - 1]
  const source = new Uint32Array(of.length)
  const face = new Uint32Array(of.length)
  of.forEach((r, t) => {
    const old = before?.exact?.[before.source[t]]?.[before.face[t]]
    if (old && stays(before.source[t])) {
      source[t] = before!.source[t]
      face[t] = before!.face[t]
    } else if (r >= 0 && number[r] >= 0) {
      source[t] = mine
      face[t] = number[r]
    } else {
      source[t] = none
      face[t] = t
    }
  })
  const exact = [...(before?.names ?? []).map((_, i) => (stays(i) ? (before?.exact?.[i] ?? null) : null)), known, null]
  return { names, source, face, exact }
}

export const recognise = defineStep({
  kind: 'convert/recognise',
  version: 1,
  title: 'Recognise',
  order: 38,
  past: 'Recognised the faces of',
  group: 'Solid',
  slow: true,
  facts: shown(
    { key: 'planes', label: 'Planes', as: 'count', some: true },
    { key: 'cylinders', label: 'Cylinders', as: 'count', some: true },
    { key: 'cones', label: 'Cones', as: 'count', some: true },
    { key: 'spheres', label: 'Spheres', as: 'count', some: true },
    { key: 'rings', label: 'Rings', as: 'count', some: true },
    { key: 'free', label: 'Free surfaces', as: 'count', some: true },
    { key: 'tolerance', label: 'Within', as: 'length' },
  ),
  summary:
    'Divides a mesh into planes, cylinders, cones, spheres and rings; picking, measuring and STEP know them as faces from then on.',
  settings: z.object({
    body: bodyRef('mesh', 'Mesh'),
    tolerance: lengthMm('Faces hold within', {
      min: 1e-6,
      max: 100,
      more: true,
      help: 'left empty: from the noise of the mesh',
    }).optional(),
  }),
  run({ settings: s, mesh, work }) {
    const body = mesh(s.body)
    const { regions, of, tolerance } = run(body.mesh, s.tolerance, span(work, 0, 0.95))
    const kinds = (kind: string) => regions.filter((r) => (r.shape?.kind ?? 'free') === kind).length
    const sorted = [...regions].sort((a, b) => b.area - a.area)
    const counts = {
      planes: kinds('plane'),
      cylinders: kinds('cylinder'),
      cones: kinds('cone'),
      spheres: kinds('sphere'),
      rings: kinds('ring'),
      free: kinds('free'),
    }
    const area = regions.reduce((sum, r) => sum + r.area, 0)
    const free = regions.filter((r) => !r.shape).reduce((sum, r) => sum + r.area, 0)
    return Promise.resolve({
      bodies: { [s.body]: meshBody(body.mesh, tagged(body.mesh, regions, of, body.tags)) },
      facts: {
        ...counts,
        tolerance,
        regions: sorted.slice(0, 500).map((r) => ({
          shape: r.shape?.kind ?? 'free',
          triangles: r.triangles.length,
          area: r.area,
          ...(r.shape
            ? {
                rms: r.shape.rms,
                at: [...r.shape.at],
                ...(r.shape.axis ? { axis: [...r.shape.axis] } : {}),
                ...(r.shape.radius ? { radius: r.shape.radius } : {}),
                ...(r.shape.thickness ? { thickness: r.shape.thickness } : {}),
                ...(r.shape.halfAngle ? { halfAngle: r.shape.halfAngle } : {}),
              }
            : {}),
        })),
      },
      warnings:
        free > 0.5 * area
          ? [
              `${num((100 * free) / area, 0)} % of the skin are free surfaces: the mechanical way does not serve this part. A reskin, or work on the mesh itself, does.`,
            ]
          : [],
      said: `${plural(regions.length, 'region')}: ${Object.entries(counts)
        .filter(([, n]) => n)
        .map(([k, n]) => plural(n, k === 'free' ? 'free surface' : k.slice(0, -1)))
        .join(', ')} · within ${mm(tolerance, 4)}`,
    })
  },
})
