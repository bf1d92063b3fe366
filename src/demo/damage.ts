/** Wear and tear for the demo scan: folds and a crossing, where hand-held scans get them. */
import { random } from '@/core/math/random'
import { cross, dot, normalize, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { vertexTriangles } from '@/core/mesh/topology'
import { vertex as vertexOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'

/** Slides small patches along the skin, so that it lies back on itself; `reach` and `shift` in mm. */
export function addFolds(mesh: TriMesh, count: number, reach: number, shift: number, seed: number): TriMesh {
  const rng = random(seed)
  const positions = mesh.positions.slice()
  for (let i = 0; i < count; i++) {
    const v = Math.floor(rng.next() * (positions.length / 3))
    const n = normalAt(mesh, v)
    const along = normalize(cross(n, perpendicular(n)))
    slide({ positions, triangles: mesh.triangles }, vertexOf(mesh, v), n, along, reach, shift)
  }
  return { positions, triangles: mesh.triangles }
}

/** Pushes one patch through its neighbourhood: sideways and under the skin, so that triangles pass through each other. */
export function addCrossing(mesh: TriMesh, at: Vec3, reach: number, shift: number): TriMesh {
  const positions = mesh.positions.slice()
  let v = 0,
    least = Infinity
  for (let u = 0; u < positions.length / 3; u++) {
    const d = Math.hypot(...sub(vertexOf(mesh, u), at))
    if (d < least) {
      least = d
      v = u
    }
  }
  const n = normalAt(mesh, v)
  const along = normalize(cross(n, perpendicular(n)))
  const centre = vertexOf(mesh, v)
  for (let u = 0; u < positions.length / 3; u++) {
    const d = sub(vertexOf(mesh, u), centre)
    const r = Math.hypot(...d)
    if (r > reach || dot(normalAt(mesh, u), n) < 0.3) continue
    const f = (1 - (r / reach) ** 2) ** 0.5
    for (let k = 0; k < 3; k++)
      positions[3 * u + k] += f * (shift * along[k] - 0.35 * shift * n[k] * Math.cos((Math.PI * r) / reach))
  }
  return { positions, triangles: mesh.triangles }
}

let ringOf: { mesh: TriMesh; around: ReturnType<typeof vertexTriangles> } | null = null

function normalAt(mesh: TriMesh, v: number): Vec3 {
  if (ringOf?.mesh.triangles !== mesh.triangles) ringOf = { mesh, around: vertexTriangles(mesh) }
  const { around } = ringOf
  let s: Vec3 = [0, 0, 0]
  for (let i = around.start[v]; i < around.start[v + 1]; i++) {
    const c = crossOf(mesh, around.list[i])
    s = [s[0] + c[0], s[1] + c[1], s[2] + c[2]]
  }
  return normalize(s)
}

function slide(mesh: TriMesh, centre: Vec3, n: Vec3, along: Vec3, reach: number, shift: number): void {
  for (let u = 0; u < mesh.positions.length / 3; u++) {
    const d = sub(vertexOf(mesh, u), centre)
    const r = Math.hypot(...d)
    if (r > reach || Math.abs(dot(d, n)) > 0.6 * reach) continue
    const f = r < 0.6 * reach ? 1 : (reach - r) / (0.4 * reach)
    for (let k = 0; k < 3; k++) mesh.positions[3 * u + k] += f * shift * along[k]
  }
}
