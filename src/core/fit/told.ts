/** What is told about regions that were found: triangles painted over to another, regions merged, split off, or of another kind. */
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import { regionSchema, resolveRegion } from '@/core/find/region'
import { fixedTriple } from '@/core/find/triple'
import { MeshSearch } from '@/core/mesh/closest'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { fitBest, fitKind, type Fitted } from './fit-shape'
import type { Recognised, Region } from './recognise'
import { samplesOf } from './samples'
import { shapeKinds } from './shape'

/** The kinds a region may be told to be of: what it was, what serves best, one of the shapes, or none. */
export const toldKinds = ['same', 'best', ...shapeKinds, 'free'] as const

/** One region, by places on the regions that are to be one, with painted triangles besides; of a kind. */
export const toldSchema = z
  .object({
    at: z.array(fixedTriple).max(200).default([]),
    paint: regionSchema.optional(),
    shape: z.enum(toldKinds).default('same'),
  })
  .strict()
export type Told = z.output<typeof toldSchema>

/** Samples of the shape of a region; null where its kind is none. Throws StepError `too-few`, `no-shape`. */
function shapeOf(mesh: TriMesh, triangles: readonly number[], kind: Exclude<Told['shape'], 'same'>): Fitted | null {
  if (kind === 'free') return null
  const samples = samplesOf(mesh, triangles)
  return kind === 'best' ? fitBest(samples) : fitKind(kind, samples)
}

/**
 * Regions as told, one after the other. Regions that lose triangles keep their shapes; empty ones go.
 * Throws StepError `empty-region` where nothing is left to be told of, `too-few` and `no-shape`.
 */
export function withTold(mesh: TriMesh, found: Recognised, told: readonly Told[]): Recognised {
  if (!told.length) return found
  const search = new MeshSearch(mesh)
  const of = Int32Array.from(found.of)
  const shapes = found.regions.map((r) => r.shape)
  for (const t of told) {
    const ids = new Set<number>()
    for (const at of t.at) {
      const near = search.nearest(at)
      if (near && of[near.triangle] >= 0) ids.add(of[near.triangle])
    }
    const painted = t.paint?.length ? resolveRegion(mesh, t.paint) : null
    const list: number[] = []
    for (let k = 0; k < triangleCount(mesh); k++) if (painted?.[k] || ids.has(of[k])) list.push(k)
    if (!list.length)
      throw new StepError('empty-region', 'A region that was told of is not there any more.', {
        where: t.at[0] ? { point: [...t.at[0]] } : undefined,
        tryThis: 'Take it off the list, or tell it anew on the mesh as it is now.',
      })
    const kinds = new Set([...ids].map((i) => shapes[i]?.kind ?? 'free'))
    const kind = t.shape !== 'same' ? t.shape : kinds.size === 1 ? [...kinds][0] : 'best'
    const shape = shapeOf(mesh, list, kind)
    for (const k of list) of[k] = shapes.length
    shapes.push(shape)
  }
  // Numbers without gaps, in the order of the regions.
  const lists = shapes.map(() => [] as number[])
  of.forEach((r, t) => {
    if (r >= 0) lists[r].push(t)
  })
  const stays = shapes.flatMap((_, i) => (lists[i].length ? [i] : []))
  const number = new Map(stays.map((i, n) => [i, n]))
  const regions = stays.map((i): Region => ({
    shape: shapes[i],
    triangles: lists[i],
    area: lists[i].reduce((s, t) => s + triangleArea(mesh, t), 0),
  }))
  return { ...found, regions, of: of.map((r) => (r < 0 ? -1 : number.get(r)!)) }
}
