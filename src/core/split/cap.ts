/** Covers flat rims of a cut with exact flat caps, holes in them left free. */
import earcut, { deviation } from 'earcut'
import { cross, dot, frame, type Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, type Rim } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'

type Ring = { readonly vertices: number[]; readonly flat: [number, number][]; readonly area: number }

const inside = (p: readonly [number, number], ring: readonly [number, number][]): boolean => {
  let odd = false
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) if (ring[i][1] > p[1] !== ring[j][1] > p[1] && p[0] < ((ring[j][0] - ring[i][0]) * (p[1] - ring[i][1])) / (ring[j][1] - ring[i][1]) + ring[i][0]) odd = !odd
  return odd
}

/**
 * Adds caps over all rims that `accept` names. The rims must lie in one plane; `outward` is the way the caps face.
 * Nesting decides what is material: rims at even depth bound it, those at odd depth are holes in it.
 * @returns the capped mesh, the number of caps, and how many rims could not be capped
 */
export function capFlat(mesh: TriMesh, outward: Vec3, accept: (rim: Rim) => boolean): { mesh: TriMesh; caps: number; failed: number; area: number } {
  const rims = findRims(mesh, buildTopology(mesh)).filter(accept)
  if (!rims.length) return { mesh, caps: 0, failed: 0, area: 0 }
  const [x, , n] = frame(outward)
  const y = cross(n, x)
  let failed = 0
  const rings: Ring[] = []
  for (const rim of rims) {
    if (!rim.closed || rim.vertices.length < 3) {
      failed++
      continue
    }
    const flat = rim.vertices.map((v): [number, number] => { const p = vertex(mesh, v); return [dot(p, x), dot(p, y)] })
    let area = 0
    flat.forEach((a, i) => { const b = flat[(i + 1) % flat.length]; area += (a[0] * b[1] - b[0] * a[1]) / 2 })
    if (Math.abs(area) > 0) rings.push({ vertices: rim.vertices, flat, area })
  }
  const depth = rings.map((r, i) => rings.filter((o, j) => j !== i && Math.abs(o.area) > Math.abs(r.area) && inside(r.flat[0], o.flat)).length)
  const triangles: number[] = []
  let caps = 0, area = 0
  rings.forEach((outer, i) => {
    if (depth[i] % 2) return
    const holes = rings.filter((h, j) => depth[j] === depth[i] + 1 && inside(h.flat[0], outer.flat))
    const ids = [...outer.vertices, ...holes.flatMap((h) => h.vertices)]
    const flat = [...outer.flat, ...holes.flatMap((h) => h.flat)].flat()
    const starts: number[] = []
    let at = outer.flat.length
    for (const h of holes) {
      starts.push(at)
      at += h.flat.length
    }
    const cut = earcut(flat, starts)
    if (deviation(flat, starts, 2, cut) > 1e-5) failed++
    for (let k = 0; k < cut.length; k += 3) {
      const [a, b, c] = [cut[k], cut[k + 1], cut[k + 2]]
      const s = (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) - (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a])
      area += Math.abs(s) / 2
      if (s >= 0) triangles.push(ids[a], ids[b], ids[c])
      else triangles.push(ids[a], ids[c], ids[b])
    }
    caps++
  })
  const all = new Uint32Array(mesh.triangles.length + triangles.length)
  all.set(mesh.triangles)
  all.set(triangles, mesh.triangles.length)
  return { mesh: { positions: mesh.positions, triangles: all }, caps, failed, area }
}
