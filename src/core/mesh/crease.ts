/** Normals for drawing: smooth where the skin is smooth, broken at creases, so that edges read as edges. */
import { vertexTriangles } from './topology'
import { triangleCount, type TriMesh } from './tri-mesh'
import { crossOf } from './triangle'

export interface Creased {
  /** Corners, one for each vertex and smooth side of it. */
  readonly positions: Float32Array
  readonly normals: Float32Array
  /** Three corners a triangle, in the mesh's order. */
  readonly index: Uint32Array
}

const creaseDegrees = 32

/**
 * Corners of a vertex share a normal while their triangles bend less than `degrees` from the first of the group; normals are weighted by
 * area and not of unit length.
 */
export function creased(mesh: TriMesh, degrees = creaseDegrees): Creased {
  const n = triangleCount(mesh)
  const unit = new Float32Array(3 * n),
    area = new Float32Array(n)
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh, t)
    const l = Math.hypot(c[0], c[1], c[2])
    area[t] = l
    if (l > 0) for (let k = 0; k < 3; k++) unit[3 * t + k] = c[k] / l
  }
  const around = vertexTriangles(mesh)
  const limit = Math.cos((degrees * Math.PI) / 180)
  const index = new Uint32Array(mesh.triangles.length)
  const positions: number[] = [],
    normals: number[] = []
  const group: number[] = []
  for (let v = 0; v + 1 < around.start.length; v++) {
    group.length = 0
    for (let i = around.start[v]; i < around.start[v + 1]; i++) {
      const t = around.list[i]
      let made = -1
      for (let g = 0; g < group.length; g += 2) {
        const s = group[g]
        const bend = unit[3 * s] * unit[3 * t] + unit[3 * s + 1] * unit[3 * t + 1] + unit[3 * s + 2] * unit[3 * t + 2]
        if (bend >= limit) {
          made = group[g + 1]
          break
        }
      }
      if (made < 0) {
        made = positions.length / 3
        group.push(t, made)
        positions.push(mesh.positions[3 * v], mesh.positions[3 * v + 1], mesh.positions[3 * v + 2])
        normals.push(0, 0, 0)
      }
      for (let k = 0; k < 3; k++) normals[3 * made + k] += unit[3 * t + k] * area[t]
      for (let c = 0; c < 3; c++) if (mesh.triangles[3 * t + c] === v) index[3 * t + c] = made
    }
  }
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), index }
}
