/** How sharp edges and corners of a cage stay. */
import type { Cage } from '@/core/subdivision/subdivide'
import { edgesOf, need, type Picked } from './net'
import type { EditOf } from './schema'

/** Sharpens picked points by themselves, else picked edges or those round picked faces; 0 makes them smooth again. @throws StepError `no-pick` */
export function sharpen(cage: Cage, picked: Picked, { sharpness }: EditOf<'sharpen'>): Cage {
  const s = sharpness === 'always' ? Infinity : sharpness
  const set = (map: ReadonlyMap<number, number>, keys: readonly number[]) => {
    const out = new Map(map)
    for (const k of keys)
      if (s > 0) out.set(k, s)
      else out.delete(k)
    return out
  }
  if (picked.points.length && !picked.edges.length && !picked.faces.length)
    return { ...cage, corners: set(cage.corners, picked.points) }
  const edges = edgesOf(cage, picked)
  need(edges, 1, 'edge', 'Sharpening')
  return { ...cage, creases: set(cage.creases, edges) }
}
