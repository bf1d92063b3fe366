/**
 * What corners of a mesh lie off their surfaces by noise, from stretches of skin that hardly turn: each is fitted by a quadric, which follows
 * planes and the facets of cylinders, cones and rings over so small an angle alike, so that chords are not taken for noise; what is left,
 * by the corners that are left over, is the noise (the unbiased estimate of a least squares fit's variance).
 */
import type { Vec3 } from '@/core/math/vec'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { quadricNumbers, squaresOffQuadric } from './off-quadric'

/** A stretch turns from its largest triangle by no more than this, degrees. */
const turn = 6
/** Corners beyond the numbers of a quadric that tell anything. */
const leastOver = 8
/** Corners looked at in one stretch. */
const most = 4000

export interface FaceNoise {
  /** One standard deviation, mm: the area's median of all stretches. */
  readonly sigma: number
  /** Share of the skin in stretches of enough corners, 0 to 1. */
  readonly share: number
}

/** Triangles that hang together and face as their first does. */
function stretch(mesh: TriMesh, { twin }: Topology, normals: Float32Array, seed: number, taken: Uint8Array): number[] {
  const limit = Math.cos((turn * Math.PI) / 180)
  const some = [seed]
  taken[seed] = 1
  for (let i = 0; i < some.length && some.length < most; i++)
    for (let h = 3 * some[i]; h < 3 * some[i] + 3; h++) {
      const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
      if (u < 0 || taken[u]) continue
      let cos = 0
      for (let d = 0; d < 3; d++) cos += normals[3 * u + d] * normals[3 * seed + d]
      if (cos < limit) continue
      taken[u] = 1
      some.push(u)
    }
  return some
}

/** Standard deviation of corners off the quadric that fits them best, mm; null where they do not tell it. */
function offQuadric(mesh: TriMesh, corners: readonly number[], z: Vec3): number | null {
  if (corners.length < quadricNumbers + leastOver) return null
  const square = squaresOffQuadric(mesh, corners, z, 1e-12)
  return square === null ? null : Math.sqrt(square / (corners.length - quadricNumbers))
}

/** @param area of each triangle, mm² */
export function faceNoiseOf(mesh: TriMesh, topology: Topology, normals: Float32Array, area: Float64Array): FaceNoise {
  const n = triangleCount(mesh)
  const order = Array.from({ length: n }, (_, t) => t).sort((a, b) => area[b] - area[a])
  const taken = new Uint8Array(n)
  const found: { sigma: number; area: number }[] = []
  let whole = 0
  for (const seed of order) {
    whole += area[seed]
    if (taken[seed]) continue
    const some = stretch(mesh, topology, normals, seed, taken)
    const z: Vec3 = [normals[3 * seed], normals[3 * seed + 1], normals[3 * seed + 2]]
    const sigma = offQuadric(mesh, [...verticesOf(mesh, some)], z)
    if (sigma !== null) found.push({ sigma, area: some.reduce((s, t) => s + area[t], 0) })
  }
  found.sort((a, b) => a.sigma - b.sigma)
  const seen = found.reduce((s, f) => s + f.area, 0)
  let sum = 0
  const median = found.find((f) => (sum += f.area) >= seen / 2)
  return { sigma: median?.sigma ?? 0, share: whole > 0 ? seen / whole : 0 }
}
