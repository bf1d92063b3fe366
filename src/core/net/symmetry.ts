/** Half of a skin at a plane square to an axis, and a net of that half put together with its mirror image, edges in the plane. */
import { standing } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { quadFigures, quadTopology, type QuadMesh } from '@/core/mesh/quad-mesh'
import { compact, type TriMesh } from '@/core/mesh/tri-mesh'

/** Corners nearer to the plane than this share of the size are in it. */
const inPlane = 1e-6

/**
 * The part of a mesh where a coordinate is above zero, its cut in the plane to the last digit.
 * @param axis 0, 1 or 2
 * @returns null where the plane does not cut the mesh
 */
export function halfOf(mesh: TriMesh, axis: number, size: number): TriMesh | null {
  const positions = Array.from(mesh.positions)
  for (let v = axis; v < positions.length; v += 3) if (Math.abs(positions[v]) < inPlane * size) positions[v] = 0
  const side = (v: number) => Math.sign(positions[3 * v + axis])
  const cuts = new Map<number, number>()
  const between = (a: number, b: number): number => {
    const key = edgeKey(a, b)
    let m = cuts.get(key)
    if (m === undefined) {
      cuts.set(key, (m = positions.length / 3))
      const s = positions[3 * a + axis] / (positions[3 * a + axis] - positions[3 * b + axis])
      for (let k = 0; k < 3; k++)
        positions.push(k === axis ? 0 : positions[3 * a + k] + s * (positions[3 * b + k] - positions[3 * a + k]))
    }
    return m
  }
  const out: number[] = []
  let [above, below] = [0, 0]
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    const v = [mesh.triangles[t], mesh.triangles[t + 1], mesh.triangles[t + 2]]
    const s = v.map(side)
    if (s.some((x) => x > 0)) above++
    if (s.some((x) => x < 0)) below++
    if (!s.some((x) => x > 0)) continue
    const ring: number[] = []
    for (let c = 0; c < 3; c++) {
      const [a, b] = [v[c], v[(c + 1) % 3]]
      if (s[c] >= 0) ring.push(a)
      if (s[c] * s[(c + 1) % 3] < 0) ring.push(between(a, b))
    }
    for (let i = 2; i < ring.length; i++) out.push(ring[0], ring[i - 1], ring[i])
  }
  if (!above || !below) return null
  return compact({ positions: Float32Array.from(positions), triangles: Uint32Array.from(out) })
}

/** Corners of the rim nearer to the plane than this share of an edge belong in it. */
const nearPlane = 0.2

/** A net and its mirror image as one; quads with all corners in the plane go. */
export function mirrored(net: QuadMesh, axis: number): QuadMesh {
  const { quads } = net
  const { rim } = quadTopology(net)
  const near = nearPlane * quadFigures(net).edge
  const positions = net.positions.slice()
  const n = positions.length / 3
  for (let v = 0; v < n; v++) if (rim[v] && Math.abs(positions[3 * v + axis]) < near) positions[3 * v + axis] = 0
  const image = new Int32Array(n)
  const points = Array.from(positions)
  for (let v = 0; v < n; v++) {
    if (positions[3 * v + axis] === 0) {
      image[v] = v
      continue
    }
    image[v] = points.length / 3
    for (let k = 0; k < 3; k++) points.push(k === axis ? -positions[3 * v + k] : positions[3 * v + k])
  }
  const out: number[] = []
  for (let q = 0; q < quads.length; q += 4) {
    const loop = Array.from(quads.subarray(q, q + 4))
    if (loop.every((v) => image[v] === v)) continue
    out.push(...loop, ...loop.map((v) => image[v]).reverse())
  }
  return { positions: Float32Array.from(points), quads: Uint32Array.from(out) }
}

/** A plane that a net may be mirrored at, in space. */
export interface MirrorPlane {
  readonly at: Vec3
  /** Unit; the half on its side is kept. */
  readonly normal: Vec3
}

/** Places into the frame of a plane, its normal along z, or out of it again. */
function through({ at, normal }: MirrorPlane, positions: Float32Array, back: boolean): Float32Array {
  const axes = standing(normal, 0)
  const out = new Float32Array(positions.length)
  for (let o = 0; o < positions.length; o += 3)
    for (let k = 0; k < 3; k++) {
      let sum = back ? at[k] : 0
      for (let j = 0; j < 3; j++) sum += back ? axes[j][k] * positions[o + j] : axes[k][j] * (positions[o + j] - at[j])
      out[o + k] = sum
    }
  return out
}

/** The part of a mesh on the side that a plane faces; null where the plane does not cut it. */
export function halfAt(mesh: TriMesh, plane: MirrorPlane, size: number): TriMesh | null {
  const half = halfOf({ ...mesh, positions: through(plane, Float32Array.from(mesh.positions), false) }, 2, size)
  return half && { ...half, positions: through(plane, Float32Array.from(half.positions), true) }
}

/** A net and its mirror image at a plane as one. */
export function mirroredAt(net: QuadMesh, plane: MirrorPlane): QuadMesh {
  const whole = mirrored({ ...net, positions: through(plane, net.positions, false) }, 2)
  return { ...whole, positions: through(plane, whole.positions, true) }
}
