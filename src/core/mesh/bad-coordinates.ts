/** Coordinates that are no numbers. */
import type { TriMesh } from './tri-mesh'

/** Coordinates that are no numbers make their triangles unusable: they go first. */
export function dropBadCoordinates(mesh: TriMesh): { mesh: TriMesh; dropped: number } {
  const { positions: p, triangles: k } = mesh
  const bad = new Uint8Array(p.length / 3)
  let any = false
  for (let v = 0; v < bad.length; v++)
    if (!(Number.isFinite(p[3 * v]) && Number.isFinite(p[3 * v + 1]) && Number.isFinite(p[3 * v + 2]))) {
      bad[v] = 1
      any = true
    }
  if (!any) return { mesh, dropped: 0 }
  const kept: number[] = []
  for (let t = 0; t < k.length; t += 3)
    if (!bad[k[t]] && !bad[k[t + 1]] && !bad[k[t + 2]]) kept.push(k[t], k[t + 1], k[t + 2])
  const positions = p.slice()
  for (let v = 0; v < bad.length; v++) if (bad[v]) positions.fill(0, 3 * v, 3 * v + 3)
  return { mesh: { positions, triangles: Uint32Array.from(kept) }, dropped: (k.length - kept.length) / 3 }
}
