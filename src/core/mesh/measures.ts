/** Area, volume and centre of a mesh. */
import type { Vec3 } from '@/core/math/vec'
import { triangleArea } from './triangle'
import { corners, triangleCount, vertex, type TriMesh } from './tri-mesh'

/** Surface area, mm². */
export function meshArea(m: TriMesh): number {
  let s = 0
  for (let t = 0; t < triangleCount(m); t++) s += triangleArea(m, t)
  return s
}

/** Signed volume by the divergence theorem (Mirtich 1996), mm³, summed about a corner of the mesh to keep digits far from the origin. */
export function meshVolume(m: TriMesh, triangles: Uint32Array = m.triangles): number {
  if (!triangles.length) return 0
  const p = m.positions
  const cx = p[3 * triangles[0]],
    cy = p[3 * triangles[0] + 1],
    cz = p[3 * triangles[0] + 2]
  let s = 0
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i],
      b = 3 * triangles[i + 1],
      c = 3 * triangles[i + 2]
    const ax = p[a] - cx,
      ay = p[a + 1] - cy,
      az = p[a + 2] - cz
    const bx = p[b] - cx,
      by = p[b + 1] - cy,
      bz = p[b + 2] - cz
    const dx = p[c] - cx,
      dy = p[c + 1] - cy,
      dz = p[c + 2] - cz
    s += ax * (by * dz - bz * dy) + ay * (bz * dx - bx * dz) + az * (bx * dy - by * dx)
  }
  return s / 6
}

/** Centre of mass of what a closed mesh encloses, by the divergence theorem (Mirtich 1996), mm; null where it encloses nothing. */
export function meshCentroid(m: TriMesh): Vec3 | null {
  if (!m.triangles.length) return null
  const o = vertex(m, m.triangles[0])
  let volume = 0
  const sum = [0, 0, 0]
  for (let t = 0; t < triangleCount(m); t++) {
    const [a, b, c] = corners(m, t)
    const u = [a[0] - o[0], a[1] - o[1], a[2] - o[2]],
      v = [b[0] - o[0], b[1] - o[1], b[2] - o[2]],
      w = [c[0] - o[0], c[1] - o[1], c[2] - o[2]]
    const six =
      u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) + u[2] * (v[0] * w[1] - v[1] * w[0])
    volume += six
    for (let k = 0; k < 3; k++) sum[k] += six * (u[k] + v[k] + w[k])
  }
  if (!(Math.abs(volume) > 0)) return null
  return [0, 1, 2].map((k) => o[k] + sum[k] / (4 * volume)) as unknown as Vec3
}
