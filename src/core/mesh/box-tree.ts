/**
 * A bounding-volume hierarchy over triangles as an implicit complete binary tree: Morton order first (Lauterbach et al. 2009), so that
 * memory follows space, then halves by the middle of the longest side (Bentley 1975) by selection (Hoare 1961).
 * Visits each overlapping pair of one mesh once, which general ray hierarchies do not offer.
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
  const p = mesh.positions,
    tri = mesh.triangles
  const scale = (a: number) => (max[a] > min[a] ? 1023.999 / (3 * (max[a] - min[a])) : 0)
  const kx = scale(0),
    ky = scale(1),
    kz = scale(2),
    ox = 3 * min[0],
    oy = 3 * min[1],
    oz = 3 * min[2]
  let keys = new Uint32Array(n),
    order = new Uint32Array(n)
  let keys2 = new Uint32Array(n),
    order2 = new Uint32Array(n)
  for (let t = 0; t < n; t++) {
    const a = 3 * tri[3 * t],
      b = 3 * tri[3 * t + 1],
      c = 3 * tri[3 * t + 2]
    const x = (p[a] + p[b] + p[c] - ox) * kx
    const y = (p[a + 1] + p[b + 1] + p[c + 1] - oy) * ky
    const z = (p[a + 2] + p[b + 2] + p[c + 2] - oz) * kz
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

/** Below this many triangles the Morton order is good enough. */
const halvedTo = 8

/** Reorders triangles so that each node of the tree holds those on one side of the middle of its longest side. */
function halve(mesh: TriMesh, order: Uint32Array, leaves: number): void {
  const n = order.length
  const p = mesh.positions,
    tri = mesh.triangles
  // Middles (three times over), in the present order; they are swapped along with it.
  const mx = new Float32Array(n),
    my = new Float32Array(n),
    mz = new Float32Array(n)
  const lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < n; i++) {
    const t = 3 * order[i]
    const a = 3 * tri[t],
      b = 3 * tri[t + 1],
      c = 3 * tri[t + 2]
    const x = p[a] + p[b] + p[c],
      y = p[a + 1] + p[b + 1] + p[c + 1],
      z = p[a + 2] + p[b + 2] + p[c + 2]
    mx[i] = x
    my[i] = y
    mz[i] = z
    if (x < lo[0]) lo[0] = x
    if (x > hi[0]) hi[0] = x
    if (y < lo[1]) lo[1] = y
    if (y > hi[1]) hi[1] = y
    if (z < lo[2]) lo[2] = z
    if (z > hi[2]) hi[2] = z
  }
  divide(mx, my, mz, order, 0, n, leaves, lo[0], lo[1], lo[2], hi[0], hi[1], hi[2])
}

/** One node: its run from..to and the cell it lies in, which is cut where its triangles are halved. */
function divide(
  mx: Float32Array,
  my: Float32Array,
  mz: Float32Array,
  order: Uint32Array,
  from: number,
  to: number,
  room: number,
  x0: number,
  y0: number,
  z0: number,
  x1: number,
  y1: number,
  z1: number,
): void {
  if (room < 2 || to - from <= halvedTo) return
  const middle = from + (room / 2) * leafSize
  if (middle >= to) return divide(mx, my, mz, order, from, to, room / 2, x0, y0, z0, x1, y1, z1)
  const dx = x1 - x0,
    dy = y1 - y0,
    dz = z1 - z0
  if (dx >= dy && dx >= dz) {
    select(mx, my, mz, order, from, to - 1, middle)
    const cut = mx[middle]
    divide(mx, my, mz, order, from, middle, room / 2, x0, y0, z0, cut, y1, z1)
    divide(mx, my, mz, order, middle, to, room / 2, cut, y0, z0, x1, y1, z1)
  } else if (dy >= dz) {
    select(my, mx, mz, order, from, to - 1, middle)
    const cut = my[middle]
    divide(mx, my, mz, order, from, middle, room / 2, x0, y0, z0, x1, cut, z1)
    divide(mx, my, mz, order, middle, to, room / 2, x0, cut, z0, x1, y1, z1)
  } else {
    select(mz, mx, my, order, from, to - 1, middle)
    const cut = mz[middle]
    divide(mx, my, mz, order, from, middle, room / 2, x0, y0, z0, x1, y1, cut)
    divide(mx, my, mz, order, middle, to, room / 2, x0, y0, cut, x1, y1, z1)
  }
}

/** Puts the keys of lo..hi so that none before `middle` is above it and none after below; the other arrays go along. */
function select(
  key: Float32Array,
  other: Float32Array,
  third: Float32Array,
  order: Uint32Array,
  lo: number,
  hi: number,
  middle: number,
): void {
  while (lo < hi) {
    const pivot = key[(lo + hi) >> 1]
    let i = lo - 1,
      j = hi + 1
    for (;;) {
      do i++
      while (key[i] < pivot)
      do j--
      while (key[j] > pivot)
      if (i >= j) break
      let f = key[i]
      key[i] = key[j]
      key[j] = f
      f = other[i]
      other[i] = other[j]
      other[j] = f
      f = third[i]
      third[i] = third[j]
      third[j] = f
      const o = order[i]
      order[i] = order[j]
      order[j] = o
    }
    if (middle <= j) hi = j
    else lo = j + 1
  }
}

/** A hierarchy of boxes over the triangles, on typed arrays; n log n. */
export function buildBoxTree(mesh: TriMesh): BoxTree {
  const n = triangleCount(mesh)
  const order = mortonOrder(mesh)
  let leaves = 1
  while (leaves * leafSize < n) leaves *= 2
  halve(mesh, order, leaves)
  const boxes = new Float32Array(6 * (2 * leaves - 1))
  const p = mesh.positions,
    tri = mesh.triangles
  const first = leaves - 1
  for (let l = 0; l < leaves; l++) {
    const o = 6 * (first + l)
    let x0 = Infinity,
      y0 = Infinity,
      z0 = Infinity,
      x1 = -Infinity,
      y1 = -Infinity,
      z1 = -Infinity
    for (let i = l * leafSize; i < Math.min(n, (l + 1) * leafSize); i++) {
      for (let c = 0; c < 3; c++) {
        const v = 3 * tri[3 * order[i] + c]
        const x = p[v],
          y = p[v + 1],
          z = p[v + 2]
        if (x < x0) x0 = x
        if (x > x1) x1 = x
        if (y < y0) y0 = y
        if (y > y1) y1 = y
        if (z < z0) z0 = z
        if (z > z1) z1 = z
      }
    }
    boxes[o] = x0
    boxes[o + 1] = y0
    boxes[o + 2] = z0
    boxes[o + 3] = x1
    boxes[o + 4] = y1
    boxes[o + 5] = z1
  }
  for (let i = first - 1; i >= 0; i--) {
    const o = 6 * i,
      l = 6 * (2 * i + 1),
      r = l + 6
    for (let a = 0; a < 3; a++) {
      boxes[o + a] = Math.min(boxes[l + a], boxes[r + a])
      boxes[o + 3 + a] = Math.max(boxes[l + 3 + a], boxes[r + 3 + a])
    }
  }
  return { order, boxes, leaves }
}

/** Triangles of a tree whose boxes come within `slack`, mm, of the box of triangle t of a mesh, with some that nearly do. */
export function visitNear(
  tree: BoxTree,
  { positions: p, triangles: k }: TriMesh,
  t: number,
  slack: number,
  visit: (s: number) => void,
): void {
  const bound = (a: number, pick: (...v: number[]) => number) =>
    pick(p[3 * k[3 * t] + a], p[3 * k[3 * t + 1] + a], p[3 * k[3 * t + 2] + a])
  const lo = [0, 1, 2].map((a) => bound(a, Math.min) - slack)
  const hi = [0, 1, 2].map((a) => bound(a, Math.max) + slack)
  visitBox(tree, lo, hi, visit)
}

/** Triangles of a tree in leaves that meet a box. */
export function visitBox(
  { boxes, order, leaves }: BoxTree,
  lo: readonly number[],
  hi: readonly number[],
  visit: (s: number) => void,
): void {
  const first = leaves - 1
  const stack = [0]
  while (stack.length) {
    const node = stack.pop()!
    const o = 6 * node
    if (
      boxes[o] > hi[0] ||
      boxes[o + 3] < lo[0] ||
      boxes[o + 1] > hi[1] ||
      boxes[o + 4] < lo[1] ||
      boxes[o + 2] > hi[2] ||
      boxes[o + 5] < lo[2]
    )
      continue
    if (node < first) {
      stack.push(2 * node + 1, 2 * node + 2)
      continue
    }
    for (let i = (node - first) * 4; i < Math.min(order.length, (node - first + 1) * 4); i++) visit(order[i])
  }
}

/** Calls `visit` once for each pair of different triangles whose boxes meet and of which one at least is from `first` on. */
export function visitPairsFrom(
  mesh: TriMesh,
  tree: BoxTree,
  first: number,
  visit: (s: number, t: number) => void,
): void {
  const { order, boxes, leaves } = tree
  const { positions: p, triangles: tri } = mesh
  const firstLeaf = leaves - 1
  const stack = new Int32Array(256)
  for (let t = first; t < order.length; t++) {
    const a = 3 * tri[3 * t],
      b = 3 * tri[3 * t + 1],
      c = 3 * tri[3 * t + 2]
    const x0 = Math.min(p[a], p[b], p[c]),
      y0 = Math.min(p[a + 1], p[b + 1], p[c + 1]),
      z0 = Math.min(p[a + 2], p[b + 2], p[c + 2])
    const x1 = Math.max(p[a], p[b], p[c]),
      y1 = Math.max(p[a + 1], p[b + 1], p[c + 1]),
      z1 = Math.max(p[a + 2], p[b + 2], p[c + 2])
    let top = 0
    stack[top++] = 0
    while (top) {
      const node = stack[--top]
      const o = 6 * node
      if (
        boxes[o] > x1 ||
        boxes[o + 3] < x0 ||
        boxes[o + 1] > y1 ||
        boxes[o + 4] < y0 ||
        boxes[o + 2] > z1 ||
        boxes[o + 5] < z0
      )
        continue
      if (node < firstLeaf) {
        stack[top++] = 2 * node + 1
        stack[top++] = 2 * node + 2
        continue
      }
      const from = (node - firstLeaf) * leafSize,
        end = Math.min(order.length, from + leafSize)
      for (let i = from; i < end; i++) {
        const s = order[i]
        // Of two new ones the lower meets the higher.
        if (s === t || (s >= first && s < t)) continue
        const d = 3 * tri[3 * s],
          e = 3 * tri[3 * s + 1],
          f = 3 * tri[3 * s + 2]
        if (
          Math.min(p[d], p[e], p[f]) > x1 ||
          Math.max(p[d], p[e], p[f]) < x0 ||
          Math.min(p[d + 1], p[e + 1], p[f + 1]) > y1 ||
          Math.max(p[d + 1], p[e + 1], p[f + 1]) < y0 ||
          Math.min(p[d + 2], p[e + 2], p[f + 2]) > z1 ||
          Math.max(p[d + 2], p[e + 2], p[f + 2]) < z0
        )
          continue
        visit(s, t)
      }
    }
  }
}

/** Tells whether the boxes of two triangles meet, by their places in the order. */
function meetings(mesh: TriMesh, order: Uint32Array): (i: number, j: number) => boolean {
  const { positions: p, triangles } = mesh
  const n = order.length
  const low = new Float32Array(3 * n),
    high = new Float32Array(3 * n)
  for (let i = 0; i < n; i++) {
    const a = 3 * triangles[3 * order[i]],
      b = 3 * triangles[3 * order[i] + 1],
      c = 3 * triangles[3 * order[i] + 2]
    for (let k = 0; k < 3; k++) {
      low[3 * i + k] = Math.min(p[a + k], p[b + k], p[c + k])
      high[3 * i + k] = Math.max(p[a + k], p[b + k], p[c + k])
    }
  }
  return (i, j) =>
    low[3 * i] <= high[3 * j] &&
    low[3 * j] <= high[3 * i] &&
    low[3 * i + 1] <= high[3 * j + 1] &&
    low[3 * j + 1] <= high[3 * i + 1] &&
    low[3 * i + 2] <= high[3 * j + 2] &&
    low[3 * j + 2] <= high[3 * i + 2]
}

/** Calls `visit` once for each pair of different triangles whose boxes meet; return true from it to end early. `tick` is called now and then. */
export function visitSelfPairs(
  mesh: TriMesh,
  tree: BoxTree,
  visit: (s: number, t: number) => boolean | void,
  tick?: (share: number) => void,
): void {
  const { order, boxes, leaves } = tree
  const n = order.length
  const first = leaves - 1
  const meet = meetings(mesh, order)
  const stack = new Int32Array(256)
  // For each leaf, walk the tree for the leaves from it onwards: every pair comes once and the stack stays small.
  for (let l = 0; l < leaves; l++) {
    const from = l * leafSize,
      to = Math.min(n, from + leafSize)
    if (from >= to) break
    if (tick && (l & 1023) === 0) tick(l / leaves)
    for (let i = from; i < to; i++) for (let j = i + 1; j < to; j++) if (meet(i, j) && visit(order[i], order[j])) return
    const q = 6 * (first + l)
    const ax = boxes[q],
      ay = boxes[q + 1],
      az = boxes[q + 2],
      bx = boxes[q + 3],
      by = boxes[q + 4],
      bz = boxes[q + 5]
    let top = 0
    stack[top++] = 0
    while (top) {
      const node = stack[--top]
      const o = 6 * node
      if (
        boxes[o] > bx ||
        boxes[o + 3] < ax ||
        boxes[o + 1] > by ||
        boxes[o + 4] < ay ||
        boxes[o + 2] > bz ||
        boxes[o + 5] < az
      )
        continue
      if (node >= first) {
        const m = node - first
        if (m <= l) continue
        const end = Math.min(n, (m + 1) * leafSize)
        for (let j = m * leafSize; j < end; j++)
          for (let i = from; i < to; i++) if (meet(i, j) && visit(order[i], order[j])) return
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
