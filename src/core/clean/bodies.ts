/** The bodies of a mesh of several pieces: each piece that faces outward, with the hollows inside of it. */
import { takeApart } from '@/core/mend/take-apart'
import { concatMeshes, meshBounds, meshVolume, type TriMesh } from '@/core/mesh/tri-mesh'

/** Largest first. Open pieces stand alone. */
export function bodiesOf(mesh: TriMesh): TriMesh[] {
  const pieces = takeApart(mesh, 0).pieces.map((m) => ({ m, volume: meshVolume(m), box: meshBounds(m) }))
  const hollow = pieces.filter((p) => p.volume < 0)
  if (!hollow.length || hollow.length === pieces.length) return pieces.map((p) => p.m)
  const outer = pieces.filter((p) => !(p.volume < 0)).map((p) => ({ ...p, inside: [] as TriMesh[] }))
  const alone: TriMesh[] = []
  for (const h of hollow) {
    // The smallest one round it.
    const round = outer
      .filter((o) => [0, 1, 2].every((k) => o.box.min[k] <= h.box.min[k] && o.box.max[k] >= h.box.max[k]))
      .sort((a, b) => a.volume - b.volume)[0]
    if (round) round.inside.push(h.m)
    else alone.push(h.m)
  }
  return [...outer.map((o) => (o.inside.length ? concatMeshes([o.m, ...o.inside]) : o.m)), ...alone]
}
