import type { TriMesh } from './tri-mesh'

/** Unit normals at vertices, weighted by the angle of each triangle there, so that signs of distances come out right (Bærentzen & Aanæs 2005). */
export function vertexNormals(mesh: TriMesh): Float32Array {
  const { positions: p, triangles: k } = mesh
  const out = new Float32Array(p.length)
  for (let i = 0; i < k.length; i += 3) {
    const a = 3 * k[i],
      b = 3 * k[i + 1],
      c = 3 * k[i + 2]
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2]
    const vx = p[c] - p[a],
      vy = p[c + 1] - p[a + 1],
      vz = p[c + 2] - p[a + 2]
    const wx = vx - ux,
      wy = vy - uy,
      wz = vz - uz
    let nx = uy * vz - uz * vy,
      ny = uz * vx - ux * vz,
      nz = ux * vy - uy * vx
    const n = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (!(n > 0)) continue
    nx /= n
    ny /= n
    nz /= n
    // Angle at a corner from cross and dot of its two edges; the cross is the same for all three.
    const alpha = Math.atan2(n, ux * vx + uy * vy + uz * vz),
      beta = Math.atan2(n, -(ux * wx + uy * wy + uz * wz))
    for (const [o, w] of [
      [a, alpha],
      [b, beta],
      [c, Math.PI - alpha - beta],
    ]) {
      out[o] += w * nx
      out[o + 1] += w * ny
      out[o + 2] += w * nz
    }
  }
  for (let o = 0; o < out.length; o += 3) {
    const l = Math.sqrt(out[o] ** 2 + out[o + 1] ** 2 + out[o + 2] ** 2)
    if (l > 0) {
      out[o] /= l
      out[o + 1] /= l
      out[o + 2] /= l
    }
  }
  return out
}
