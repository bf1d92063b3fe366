/** Facts of bodies as a database may still keep them from before kinds had definitions of their own. */
import { plural } from '@/core/base/say'
import type { Vec3 } from '@/core/math/vec'
import type { BodyFacts, FactRow } from './kind'

interface FirstFacts {
  kind: string
  size: Vec3
  min: Vec3
  closed: boolean
  volume: number
  area: number
  triangles: number
  vertices?: number
  pieces: number
  holes: number
  openEdges: number
  nonManifoldEdges: number
  exact?: { faces: number; edges: number; faceKinds: Record<string, number> }
}

/** Kept facts in today's form. */
export function currentFacts(kept: BodyFacts | FirstFacts): BodyFacts {
  if ('badge' in kept) return kept
  const { kind, size, min, closed, exact, ...rest } = kept
  const figures: Record<string, number> = {}
  for (const [k, v] of Object.entries(rest)) if (typeof v === 'number') figures[k] = v
  if (exact) Object.assign(figures, { faces: exact.faces, edges: exact.edges })
  const rows: FactRow[] = [
    exact
      ? { key: 'faces', label: 'Faces', value: exact.faces, as: 'count' }
      : { key: 'triangles', label: 'Triangles', value: rest.triangles, as: 'count' },
    { key: 'area', label: 'Area', value: rest.area, as: 'area' },
  ]
  if (closed) rows.push({ key: 'volume', label: 'Volume', value: rest.volume, as: 'volume' })
  return {
    kind,
    size,
    min,
    sound: closed,
    badge: closed ? 'closed' : rest.holes ? plural(rest.holes, 'hole') : 'open',
    rows,
    figures,
    can: kind === 'mesh' ? ['surface', 'check'] : ['surface', 'exact', 'parts', 'check'],
  }
}
