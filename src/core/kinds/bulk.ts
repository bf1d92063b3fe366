/** What readouts tell of any skin: volume and middle where it is closed, area, place. */
import { meshArea, meshCentroid, meshVolume } from '@/core/mesh/measures'
import { boundsSize, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import type { FactRow } from './kind'
import { placeOf } from './place'

export interface Bulk {
  readonly rows: readonly FactRow[]
  readonly volume: number
  readonly area: number
  readonly place: ReturnType<typeof placeOf>
}

export function bulkOf(mesh: TriMesh, closed: boolean): Bulk {
  const volume = closed ? meshVolume(mesh) : 0
  const area = meshArea(mesh)
  const centre = closed ? meshCentroid(mesh) : null
  const bounds = meshBounds(mesh)
  return {
    rows: [
      ...(closed ? [{ key: 'volume', label: 'Volume', value: volume, as: 'volume' } as const] : []),
      ...(centre ? [{ key: 'centre', label: 'Centre of mass', value: [...centre], as: 'place' } as const] : []),
      { key: 'area', label: 'Area', value: area, as: 'area' },
    ],
    volume,
    area,
    place: placeOf({ min: bounds.min, size: boundsSize(bounds) }),
  }
}
