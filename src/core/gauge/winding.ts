/** Generalised winding number of a soup of triangles (Jacobson, Kavan & Sorkine-Hornung 2013) in its fast form (Barill et al. 2018): about 1 inside, 0 outside, sound or not. */
import { crossInto } from '@/core/mesh/triangle'
import { buildBoxTree, type BoxTree } from '@/core/mesh/box-tree'
import type { TriMesh } from '@/core/mesh/tri-mesh'

const leafSize = 4
/** A node counts as one dipole from this many of its radii away. */
const far = 2.2

/** Cross product of the triangle at hand; nothing is made for each. */
const across = new Float64Array(3)

export class WindingNumber {
  private readonly tree: BoxTree
  /** For each node: middle x y z, area normal x y z, squared reach. */
  private readonly nodes: Float64Array
  private readonly stack = new Int32Array(128)

  constructor(private readonly mesh: TriMesh) {
    this.tree = buildBoxTree(mesh)
    const { order, leaves, boxes } = this.tree
    const { positions: p, triangles: k } = mesh
    const first = leaves - 1
    const nodes = (this.nodes = new Float64Array(7 * (2 * leaves - 1)))
    const weight = new Float64Array(2 * leaves - 1)
    for (let l = 0; l < leaves; l++) {
      const o = 7 * (first + l)
      for (let i = l * leafSize; i < Math.min(order.length, (l + 1) * leafSize); i++) {
        const a = 3 * k[3 * order[i]],
          b = 3 * k[3 * order[i] + 1],
          c = 3 * k[3 * order[i] + 2]
        crossInto(p, k, order[i], across)
        const [nx, ny, nz] = [across[0] / 2, across[1] / 2, across[2] / 2]
        const area = Math.sqrt(nx * nx + ny * ny + nz * nz)
        weight[first + l] += area
        for (let a3 = 0; a3 < 3; a3++) nodes[o + a3] += (area * (p[a + a3] + p[b + a3] + p[c + a3])) / 3
        nodes[o + 3] += nx
        nodes[o + 4] += ny
        nodes[o + 5] += nz
      }
    }
    for (let i = first - 1; i >= 0; i--) {
      const o = 7 * i,
        l = 7 * (2 * i + 1),
        r = l + 7
      weight[i] = weight[2 * i + 1] + weight[2 * i + 2]
      for (let a = 0; a < 6; a++) nodes[o + a] = nodes[l + a] + nodes[r + a]
    }
    for (let i = 0; i < weight.length; i++) {
      const o = 7 * i
      let reach = 0
      for (let a = 0; a < 3; a++) {
        nodes[o + a] /= weight[i] || 1
        const d = Math.max(boxes[6 * i + 3 + a] - nodes[o + a], nodes[o + a] - boxes[6 * i + a])
        if (d > 0) reach += d * d
      }
      nodes[o + 6] = reach
    }
  }

  /** The winding number at a point. @param skip triangles that do not count: those the point lies on */
  at(x: number, y: number, z: number, skip?: (t: number) => boolean): number {
    const {
      tree: { order, leaves },
      nodes,
      stack,
      mesh: { positions: p, triangles: k },
    } = this
    const first = leaves - 1
    if (!order.length) return 0
    let sum = 0
    let top = 0
    stack[top++] = 0
    while (top) {
      const node = stack[--top]
      const o = 7 * node
      const dx = nodes[o] - x,
        dy = nodes[o + 1] - y,
        dz = nodes[o + 2] - z
      const d2 = dx * dx + dy * dy + dz * dz
      if (d2 > far * far * nodes[o + 6]) {
        if (d2 > 0) sum += (nodes[o + 3] * dx + nodes[o + 4] * dy + nodes[o + 5] * dz) / (d2 * Math.sqrt(d2))
        continue
      }
      if (node < first) {
        stack[top++] = 2 * node + 1
        stack[top++] = 2 * node + 2
        continue
      }
      for (let i = (node - first) * leafSize; i < Math.min(order.length, (node - first + 1) * leafSize); i++) {
        if (skip?.(order[i])) continue
        // Solid angle of a triangle (van Oosterom & Strackee 1983).
        const a = 3 * k[3 * order[i]],
          b = 3 * k[3 * order[i] + 1],
          c = 3 * k[3 * order[i] + 2]
        const ax = p[a] - x,
          ay = p[a + 1] - y,
          az = p[a + 2] - z,
          bx = p[b] - x,
          by = p[b + 1] - y,
          bz = p[b + 2] - z,
          cx = p[c] - x,
          cy = p[c + 1] - y,
          cz = p[c + 2] - z
        const la = Math.sqrt(ax * ax + ay * ay + az * az),
          lb = Math.sqrt(bx * bx + by * by + bz * bz),
          lc = Math.sqrt(cx * cx + cy * cy + cz * cz)
        const det = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
        const div =
          la * lb * lc +
          (ax * bx + ay * by + az * bz) * lc +
          (bx * cx + by * cy + bz * cz) * la +
          (cx * ax + cy * ay + cz * az) * lb
        sum += 2 * Math.atan2(det, div)
      }
    }
    return sum / (4 * Math.PI)
  }
}
