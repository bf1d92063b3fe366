/** The bodies of a mesh of several pieces: each piece that faces outward, with the hollows inside of it. */
import { takeApart } from '@/core/mend/take-apart'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, meshBounds, type Bounds, type TriMesh } from '@/core/mesh/tri-mesh'

/** A connected piece of a skin, by what it encloses and where it is. */
export interface SkinPiece {
  /** mm³; below zero where it faces inward. */
  readonly volume: number
  readonly box: Bounds
}

/** Pieces that face outward, each with the hollows inside of it; a hollow in none stands alone, as all do where nothing faces outward. */
export function withHollows<P extends SkinPiece>(pieces: readonly P[]): { outer: P; hollows: P[] }[] {
  const hollow = pieces.filter((p) => p.volume < 0)
  if (!hollow.length || hollow.length === pieces.length) return pieces.map((outer) => ({ outer, hollows: [] }))
  const out = pieces.filter((p) => !(p.volume < 0)).map((outer) => ({ outer, hollows: [] as P[] }))
  const alone: P[] = []
  for (const h of hollow) {
    // The smallest one round it.
    const round = out
      .filter(({ outer: o }) => [0, 1, 2].every((k) => o.box.min[k] <= h.box.min[k] && o.box.max[k] >= h.box.max[k]))
      .sort((a, b) => a.outer.volume - b.outer.volume)[0]
    if (round) round.hollows.push(h)
    else alone.push(h)
  }
  return [...out, ...alone.map((outer) => ({ outer, hollows: [] }))]
}

/** Largest first. Open pieces stand alone. */
export function bodiesOf(mesh: TriMesh): TriMesh[] {
  const pieces = takeApart(mesh, 0).pieces.map((m) => ({ m, volume: meshVolume(m), box: meshBounds(m) }))
  return withHollows(pieces).map(({ outer, hollows }) =>
    hollows.length ? concatMeshes([outer.m, ...hollows.map((h) => h.m)]) : outer.m,
  )
}
