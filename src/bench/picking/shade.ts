/** Normals for drawing: smooth where the skin is smooth, broken at creases, so that edges read as edges. */
import { isMesh, type Body } from '@/core/bodies/body'
import { vertexTriangles } from '@/core/mesh/topology'
import { crossOf, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

export interface Shaded {
  positions: Float32Array
  normals: Float32Array
  index: Uint32Array
  lines: Float32Array
  bounds: { min: [number, number, number]; max: [number, number, number] }
}

const creaseDegrees = 32

function boundsOf(p: Float32Array): Shaded['bounds'] {
  const min: [number, number, number] = [Infinity, Infinity, Infinity],
    max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < p.length; i++) {
    const a = i % 3
    if (p[i] < min[a]) min[a] = p[i]
    if (p[i] > max[a]) max[a] = p[i]
  }
  return { min, max }
}

/** Corners of a vertex share a normal while their triangles bend less than the crease angle from the first of the group. */
function crease(mesh: TriMesh): Omit<Shaded, 'lines' | 'bounds'> {
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
  const limit = Math.cos((creaseDegrees * Math.PI) / 180)
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
        if (
          unit[3 * s] * unit[3 * t] + unit[3 * s + 1] * unit[3 * t + 1] + unit[3 * s + 2] * unit[3 * t + 2] >=
          limit
        ) {
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

export function shadeMesh(body: Body): Shaded {
  if (!isMesh(body)) {
    const d = body.display
    return {
      positions: d.positions.slice(),
      normals: d.normals.slice(),
      index: d.triangles.slice(),
      lines: d.lines.slice(),
      bounds: boundsOf(d.positions),
    }
  }
  return { ...crease(body.mesh), lines: new Float32Array(0), bounds: boundsOf(body.mesh.positions) }
}
