/**
 * A linear bounding-volume hierarchy over triangles: Morton order (Lauterbach et al. 2009) under an implicit complete binary tree.
 * Built in linear time; visits each overlapping pair of one mesh once, which general ray hierarchies do not offer.
 */
import type { TriMesh } from './tri-mesh'
import { meshBounds, triangleCount } from './tri-mesh'

const leafSize = 4

export interface BoxTree {
  readonly order: Uint32Array
  /** min x y z, max x y z for each node; children of i are 2 i + 1 and 2 i + 2; leaves are the last `leaves` nodes. */
  readonly boxes: Float32Array
  readonly leaves: number
}

function spread(x: number): number {
  x = (x | (x << 16)) & 0x030000ff
  x = (x | (x << 8)) & 0x0300f00f
  x = (x | (x << 4)) & 0x030c30c3
  return (x | (x << 2)) & 0x09249249
}

function mortonOrder(mesh: TriMesh): Uint32Array {
  const n = triangleCount(mesh)
  const { min, max } = meshBounds(mesh)
  const p = mesh.positions, tri = mesh.triangles
  const k = [0, 1, 2].map((a) => (max[a] > min[a] ? 1023.999 / (3 * (max[a] - min[a])) : 0))
  let keys = new Uint32Array(n), order = new Uint32Array(n)
  let keys2 = new Uint32Array(n), order2 = new Uint32Array(n)
  for (let t = 0; t < n; t++) {
    const a = 3 * tri[3 * t], b = 3 * tri[3 * t + 1], c = 3 * tri[3 * t + 2]
    const x = (p[a] + p[b] + p[c] - 3 * min[0]) * k[0]
    const y = (p[a + 1] + p[b + 1] + p[c + 1] - 3 * min[1]) * k[1]
    const z = (p[a + 2] + p[b + 2] + p[c + 2] - 3 * min[2]) * k[2]
    keys[t] = spread(x & 1023) | (spread(y & 1023) << 1) | (spread(z & 1023) << 2)
    order[t] = t
  }
  for (let shift = 0; shift < 30; shift += 10) {
    const count = new Uint32Array(1025)
    for (let t = 0; t < n; t++) count[((keys[t] >>> shift) & 1023) + 1]++
    for (let i = 1; i < 1025; i++) count[i] += count[i - 1]
    for (let t = 0; t < n; t++) {
      const to = count[(keys[t] >>> shift) & 1023]++
      keys2[to] = keys[t]
      order2[to] = order[t]
    }
    ;[keys, keys2, order, order2] = [keys2, keys, order2, order]
  }
  return order
}

export function buildBoxTree(mesh: TriMesh): BoxTree {
  const n = triangleCount(mesh)
  const order = mortonOrder(mesh)
  let leaves = 1
  while (leaves * leafSize < n) leaves *= 2
  const boxes = new Float32Array(6 * (2 * leaves - 1))
  const p = mesh.positions, tri = mesh.triangles
  const first = leaves - 1
  for (let l = 0; l < leaves; l++) {
    const o = 6 * (first + l)
    boxes[o] = boxes[o + 1] = boxes[o + 2] = Infinity
    boxes[o + 3] = boxes[o + 4] = boxes[o + 5] = -Infinity
    for (let i = l * leafSize; i < Math.min(n, (l + 1) * leafSize); i++) {
      for (let c = 0; c < 3; c++) {
        const v = 3 * tri[3 * order[i] + c]
        for (let a = 0; a < 3; a++) {
          if (p[v + a] < boxes[o + a]) boxes[o + a] = p[v + a]
          if (p[v + a] > boxes[o + 3 + a]) boxes[o + 3 + a] = p[v + a]
        }
      }
    }
  }
  for (let i = first - 1; i >= 0; i--) {
    const o = 6 * i, l = 6 * (2 * i + 1), r = l + 6
    for (let a = 0; a < 3; a++) {
      boxes[o + a] = Math.min(boxes[l + a], boxes[r + a])
      boxes[o + 3 + a] = Math.max(boxes[l + 3 + a], boxes[r + 3 + a])
    }
  }
  return { order, boxes, leaves }
}

/** Calls `visit` once for each pair of different triangles whose boxes meet; return true from it to end early. `tick` is called now and then. */
export function visitSelfPairs(mesh: TriMesh, tree: BoxTree, visit: (s: number, t: number) => boolean | void, tick?: (share: number) => void): void {
  const { order, boxes, leaves } = tree
  const n = order.length
  const first = leaves - 1
  const p = mesh.positions, tri = mesh.triangles
  const low = new Float32Array(3 * n), high = new Float32Array(3 * n)
  for (let i = 0; i < n; i++) {
    const a = 3 * tri[3 * order[i]], b = 3 * tri[3 * order[i] + 1], c = 3 * tri[3 * order[i] + 2]
    for (let k = 0; k < 3; k++) {
      low[3 * i + k] = Math.min(p[a + k], p[b + k], p[c + k])
      high[3 * i + k] = Math.max(p[a + k], p[b + k], p[c + k])
    }
  }
  const meet = (i: number, j: number) =>
    low[3 * i] <= high[3 * j] && low[3 * j] <= high[3 * i] &&
    low[3 * i + 1] <= high[3 * j + 1] && low[3 * j + 1] <= high[3 * i + 1] &&
    low[3 * i + 2] <= high[3 * j + 2] && low[3 * j + 2] <= high[3 * i + 2]
  const stack = new Int32Array(256)
  // For each leaf, walk the tree for the leaves from it onwards: every pair comes once and the stack stays small.
  for (let l = 0; l < leaves; l++) {
    const from = l * leafSize, to = Math.min(n, from + leafSize)
    if (from >= to) break
    if (tick && (l & 1023) === 0) tick(l / leaves)
    for (let i = from; i < to; i++) for (let j = i + 1; j < to; j++) if (meet(i, j) && visit(order[i], order[j])) return
    const q = 6 * (first + l)
    const ax = boxes[q], ay = boxes[q + 1], az = boxes[q + 2], bx = boxes[q + 3], by = boxes[q + 4], bz = boxes[q + 5]
    let top = 0
    stack[top++] = 0
    while (top) {
      const node = stack[--top]
      const o = 6 * node
      if (boxes[o] > bx || boxes[o + 3] < ax || boxes[o + 1] > by || boxes[o + 4] < ay || boxes[o + 2] > bz || boxes[o + 5] < az) continue
      if (node >= first) {
        const m = node - first
        if (m <= l) continue
        const end = Math.min(n, (m + 1) * leafSize)
        for (let j = m * leafSize; j < end; j++) for (let i = from; i < to; i++) if (meet(i, j) && visit(order[i], order[j])) return
      } else {
        // Whole subtrees before this leaf were met from the other side.
        let lastLeaf = 2 * node + 2
        while (lastLeaf < first) lastLeaf = 2 * lastLeaf + 2
        if (lastLeaf - first <= l) continue
        stack[top++] = 2 * node + 2
        stack[top++] = 2 * node + 1
      }
    }
  }
}
