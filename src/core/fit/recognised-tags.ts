/** Regions as a mesh remembers them: each triangle knows the face it was found to be of. */
import type { FacePart, SourceTags } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { MeshSearch } from '@/core/mesh/closest'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { middleOf, triangleArea } from '@/core/mesh/triangle'
import { fitKind, type Fitted } from './fit-shape'
import { cleanShare } from './labelled'
import type { Recognised, Region } from './regions'
import { samplesOf } from './samples'
import type { ShapeKind } from './shape'

/** What faces that were found in a mesh come from, and triangles that are of none. */
export const recognisedName = 'recognised'
export const leftName = 'not recognised'

/** A region's shape as the exact face that its triangles stand for. */
function faceOf(mesh: TriMesh, region: Region, name: string): FacePart | null {
  const s = region.shape
  if (!s) return null
  // A place well on it: the middle of one of its triangles.
  const at = middleOf(mesh, region.triangles[region.triangles.length >> 1])
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

/** The mesh's tags with each triangle knowing the face it is of; what it knew of exact faces before stays. */
export function tagsOf(
  mesh: TriMesh,
  { regions, of }: Pick<Recognised, 'regions' | 'of'>,
  before: SourceTags | undefined,
): SourceTags {
  const count: Record<string, number> = {}
  const faces = regions.map((r): FacePart | null => {
    const kind = r.shape?.kind ?? 'free'
    count[kind] = (count[kind] ?? 0) + 1
    return faceOf(mesh, r, `${kind} ${count[kind]}`)
  })
  // One source for what was found; triangles of no shape are told by the second.
  const known = faces.flatMap((f) => (f ? [f] : []))
  const number = faces.map((f) => (f ? known.indexOf(f) : -1))
  const names = [...(before?.names ?? []), recognisedName, leftName]
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

const kindOf: Partial<Record<FacePart['shape'], ShapeKind>> = {
  plane: 'plane',
  cylinder: 'cylinder',
  cone: 'cone',
  sphere: 'sphere',
  torus: 'ring',
}
/** What a face holds within is so many times what its corners are off by. */
const holdsTimes = 4

/** The regions that a mesh remembers, each fitted anew to its triangles; null where it was never recognised. */
export function recognisedOf(mesh: TriMesh, tags: SourceTags | undefined): Recognised | null {
  if (!tags?.exact || !tags.names.includes(recognisedName)) return null
  const numbers = new Map<string, number>()
  const lists: number[][] = []
  const kinds: (ShapeKind | null)[] = []
  const of = new Int32Array(tags.source.length)
  of.forEach((_, t) => {
    const part = tags.exact![tags.source[t]]?.[tags.face[t]]
    const kind = (part && kindOf[part.shape]) ?? null
    // All that is of no shape is one region, as far as it matters here.
    const key = kind ? `${tags.source[t]} ${tags.face[t]}` : ''
    let r = numbers.get(key)
    if (r === undefined) {
      numbers.set(key, (r = lists.length))
      lists.push([])
      kinds.push(kind)
    }
    lists[r].push(t)
    of[t] = r
  })
  const regions = lists.map((triangles, r): Region => ({
    shape: kinds[r] && fitted(mesh, triangles, kinds[r]),
    triangles,
    area: triangles.reduce((s, t) => s + triangleArea(mesh, t), 0),
  }))
  const off = Math.max(0, ...regions.map((r) => r.shape?.rms ?? 0))
  const least = holdsTimes * cleanShare * (diagonal(meshBounds(mesh)) || 1)
  return { regions, of, tolerance: Math.max(least, holdsTimes * off), drawn: off < least, noise: off }
}

function fitted(mesh: TriMesh, triangles: readonly number[], kind: ShapeKind): Fitted | null {
  try {
    return fitKind(kind, samplesOf(mesh, triangles), {}, { lots: 4 })
  } catch (error) {
    if (error instanceof StepError) return null
    throw error
  }
}

/** What a part of a mesh knows of where its triangles came from, by what lies where they lie. */
export function tagsOnPart(
  whole: { readonly mesh: TriMesh; readonly tags?: SourceTags },
  part: TriMesh,
): SourceTags | undefined {
  const { mesh, tags } = whole
  if (!tags || part === mesh || !tags.names.includes(recognisedName)) return tags
  const search = new MeshSearch(mesh)
  const from = Array.from({ length: triangleCount(part) }, (_, t) => search.nearest(middleOf(part, t))!.triangle)
  return {
    ...tags,
    source: Uint32Array.from(from, (t) => tags.source[t]),
    face: Uint32Array.from(from, (t) => tags.face[t]),
  }
}
