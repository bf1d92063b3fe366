/** Covers flat rims of a cut with exact flat caps, holes in them left free. */
import earcut, { deviation } from 'earcut'
import { cross, dot, frame, type Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, type Rim } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'

const inside = (p: readonly [number, number], ring: readonly (readonly [number, number])[]): boolean => {
  let odd = false
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++)
    if (
      ring[i][1] > p[1] !== ring[j][1] > p[1] &&
      p[0] < ((ring[j][0] - ring[i][0]) * (p[1] - ring[i][1])) / (ring[j][1] - ring[i][1]) + ring[i][0]
    )
      odd = !odd
  return odd
}

/** Area inside one ring, either way round. */
export const ringArea = (ring: readonly (readonly [number, number])[]): number =>
  Math.abs(
    ring.reduce((s, a, i) => {
      const b = ring[(i + 1) % ring.length]
      return s + (a[0] * b[1] - b[0] * a[1]) / 2
    }, 0),
  )

/**
 * Fills nested closed rings in the plane: rings at even depth bound material, those at odd depth are holes in it.
 * @param check count what could not be filled, and keep corners on straight runs; a face that is only looked at needs neither
 * @returns triangles, counter-clockwise, as numbers of all rings' corners in one row; areas filled; rings that earcut could not fill; how
 * many rings each ring lies in
 */
export function fillRings(
  rings: readonly (readonly (readonly [number, number])[])[],
  check = true,
): { triangles: number[]; area: number; filled: number; failed: number; depth: number[] } {
  const start: number[] = []
  let total = 0
  for (const r of rings) {
    start.push(total)
    total += r.length
  }
  const area = rings.map(ringArea)
  const depth = rings.map((r, i) =>
    area[i] > 0 ? rings.filter((o, j) => j !== i && area[j] > area[i] && inside(r[0], o)).length : 1,
  )
  const triangles: number[] = []
  let sum = 0,
    filled = 0,
    failed = 0
  rings.forEach((outer, i) => {
    if (depth[i] % 2 || !(area[i] > 0)) return
    const holes = rings
      .map((_, j) => j)
      .filter((j) => depth[j] === depth[i] + 1 && area[j] > 0 && inside(rings[j][0], outer))
    const parts = [i, ...holes]
    const ids = parts.flatMap((j) => rings[j].map((_, k) => start[j] + k))
    const flat = parts.flatMap((j) => rings[j].flatMap((p) => [p[0], p[1]]))
    const starts: number[] = []
    let at = outer.length
    for (const j of holes) {
      starts.push(at)
      at += rings[j].length
    }
    const cut = earcut(flat, starts)
    if (check && deviation(flat, starts, 2, cut) > 1e-5) failed++
    for (let k = 0; k < cut.length; k += 3) {
      const a = cut[k],
        b = cut[k + 1],
        c = cut[k + 2]
      const s =
        (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
        (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a])
      sum += Math.abs(s) / 2
      triangles.push(ids[a], s >= 0 ? ids[b] : ids[c], s >= 0 ? ids[c] : ids[b])
    }
    filled++
  })
  if (check)
    rings.forEach((r, i) => {
      if (area[i] > 0 && !keepCorners(triangles, start[i], r.length)) failed++
    })
  return { triangles, area: sum, filled, failed, depth }
}

/**
 * Ear cutting drops corners that lie on a straight run; the mesh around has them, so each is put back into the triangle along its run.
 * @returns whether every corner of the ring could be kept
 */
function keepCorners(triangles: number[], first: number, n: number): boolean {
  const used = new Uint8Array(n)
  for (const v of triangles) if (v >= first && v < first + n) used[v - first] = 1
  if (!used.includes(0)) return true
  const kept = Array.from(used.keys()).filter((i) => used[i])
  if (kept.length < 2) return false
  let whole = true
  kept.forEach((a, q) => {
    const b = kept[(q + 1) % kept.length]
    const between: number[] = []
    for (let i = (a + 1) % n; i !== b; i = (i + 1) % n) between.push(first + i)
    if (!between.length) return
    const [from, to] = [first + a, first + b]
    for (let t = 0; t < triangles.length; t += 3)
      for (let c = 0; c < 3; c++) {
        const u = triangles[t + c],
          v = triangles[t + ((c + 1) % 3)]
        if (!((u === from && v === to) || (u === to && v === from))) continue
        const apex = triangles[t + ((c + 2) % 3)]
        const row = u === from ? [from, ...between, to] : [to, ...[...between].reverse(), from]
        triangles[t] = row[0]
        triangles[t + 1] = row[1]
        triangles[t + 2] = apex
        for (let i = 1; i + 1 < row.length; i++) triangles.push(row[i], row[i + 1], apex)
        return
      }
    whole = false
  })
  return whole
}

/**
 * Adds caps over all rims that `accept` names. The rims must lie in one plane; `outward` is the way the caps face.
 * Nesting decides what is material: rims at even depth bound it, those at odd depth are holes in it.
 * @returns the capped mesh, the number of caps, and how many rims could not be capped
 */
export function capFlat(
  mesh: TriMesh,
  outward: Vec3,
  accept: (rim: Rim) => boolean,
): { mesh: TriMesh; caps: number; failed: number; area: number } {
  const rims = findRims(mesh, buildTopology(mesh)).filter(accept)
  if (!rims.length) return { mesh, caps: 0, failed: 0, area: 0 }
  const [x, , n] = frame(outward)
  const y = cross(n, x)
  const sound = rims.filter((r) => r.closed && r.vertices.length >= 3)
  const ids = sound.flatMap((r) => r.vertices)
  const f = fillRings(
    sound.map((r) =>
      r.vertices.map((v): [number, number] => {
        const p = vertex(mesh, v)
        return [dot(p, x), dot(p, y)]
      }),
    ),
  )
  const all = new Uint32Array(mesh.triangles.length + f.triangles.length)
  all.set(mesh.triangles)
  f.triangles.forEach((v, i) => {
    all[mesh.triangles.length + i] = ids[v]
  })
  return {
    mesh: { positions: mesh.positions, triangles: all },
    caps: f.filled,
    failed: f.failed + rims.length - sound.length,
    area: f.area,
  }
}
