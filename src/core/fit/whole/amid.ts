/** Whether an area has corners amid it, which tell how it bends both ways. */
import type { SkinField } from '@/core/find/smooth-surface'
import { nextIn, triangleOf } from '@/core/mesh/topology'
import type { ShapeKind } from '../shape'

/** Any two circles about one axis lie on a sphere and on a ring: only corners amid the area show that it is one. */
export const doubtful: ReadonlySet<ShapeKind> = new Set(['sphere', 'ring'])
export const leastAmid = 0.05

/** Corners of an area that none of its border edges ends at. */
export function amid({ mesh, topology }: SkinField, list: readonly number[]): number {
  const inside = new Set(list)
  const all = new Set<number>()
  const border = new Set<number>()
  const k = mesh.triangles
  for (const t of list)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      all.add(k[h])
      const w = topology.twin[h]
      if (w < 0 || !inside.has(triangleOf(w))) border.add(k[h]).add(k[nextIn(h)])
    }
  return all.size - border.size
}
