/** Fairs chosen vertices of a mesh: the smoothest surface that meets what stays fixed. */
import { conjugateGradient } from '@/core/math/conjugate-gradient'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { fairEnergy } from './fair-energy'

/**
 * Least energy over the free vertices (Kobbelt et al. 1998; Botsch & Kobbelt 2004): order 1 least stretch (meets the rim), 2 least
 * bending (tangent to its surroundings), 3 least change of bending (continues their curvature). Laplacians carry weights by inverse
 * edge length; rows reach as many rings into the fixed mesh as the order says.
 * @param free vertex numbers
 */
export function fairVertices(
  mesh: TriMesh,
  free: readonly number[],
  order: 1 | 2 | 3,
  work: Work = quiet,
  iterations = order === 3 ? 1500 : 500,
): TriMesh {
  if (!free.length) return mesh
  const { vertices, freeCount, gradient } = fairEnergy(mesh, free, order)
  const size = 3 * freeCount
  const begin = new Float64Array(size)
  const whole = new Float64Array(3 * vertices.length)
  vertices.forEach((v, i) => {
    for (let a = 0; a < 3; a++) (i < freeCount ? begin : whole)[3 * i + a] = mesh.positions[3 * v + a]
  })
  // Right side: minus the gradient with free vertices at zero.
  const right = new Float64Array(size)
  gradient(whole, right)
  for (let i = 0; i < size; i++) right[i] = -right[i]
  whole.fill(0, size)
  let calls = 0
  const x = conjugateGradient(
    size,
    (v, out) => {
      if ((calls++ & 63) === 0) {
        checkStop(work)
        work.progress(Math.min(1, calls / iterations), 'fairing')
      }
      whole.set(v)
      gradient(whole, out)
    },
    new Float64Array(size).fill(1),
    right,
    begin,
    { tolerance: order === 3 ? 1e-9 : 1e-7, iterations },
  )
  const positions = mesh.positions.slice()
  for (let i = 0; i < freeCount; i++) for (let a = 0; a < 3; a++) positions[3 * vertices[i] + a] = x[3 * i + a]
  return { positions, triangles: mesh.triangles }
}
