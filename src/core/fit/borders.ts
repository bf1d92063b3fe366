/**
 * Borders between regions moved to where they belong: each triangle goes to that of its neighbours' shapes which it lies on and faces as,
 * and which keeps the border short (iterated conditional modes; Besag 1986).
 */
import type { SkinField } from '@/core/find/smooth-surface'
import { dot, type Vec3 } from '@/core/math/vec'
import { edgeLength, triangleOf } from '@/core/mesh/topology'
import { vertex } from '@/core/mesh/tri-mesh'
import type { Fitted } from './fit-shape'
import { normalOf, offShape } from './shape'

const rounds = 12
/** What a border edge costs beside a corner that is off by the tolerance; in shares of the triangle's own outline. */
const borderCost = 0.7
/** What a triangle costs that faces another way than its shape, for each unit of 1 - cosine. */
const turnCost = 6
/** What it costs to be of no shape. */
const freeCost = 12
/** Parts of a region of fewer triangles go to their neighbours. */
const leastPart = 3

/** Regions of fewer triangles that their neighbours explain nearly as well are no regions. */
const fewTriangles = 60
const explained = 1.6

/** Takes small regions apart whose triangles fit those beside them. */
function dissolve(of: Int32Array, count: number, twin: Int32Array, misfit: (t: number, r: number) => number): void {
  const lists = Array.from({ length: count }, () => [] as number[])
  of.forEach((r, t) => {
    if (r >= 0) lists[r].push(t)
  })
  for (const [r, list] of lists.entries()) {
    if (!list.length || list.length >= fewTriangles) continue
    const beside = new Set<number>()
    for (const t of list)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const other = twin[h] < 0 ? -1 : of[triangleOf(twin[h])]
        if (other >= 0 && other !== r && lists[other].length > list.length) beside.add(other)
      }
    if (!beside.size) continue
    const best = list.map((t) => [...beside].map((o) => [misfit(t, o), o] as const).sort((a, b) => a[0] - b[0])[0])
    if (
      best.reduce((s, [cost]) => s + cost, 0) > explained * list.length ||
      best.some(([cost]) => cost > 4 * explained)
    )
      continue
    list.forEach((t, i) => {
      of[t] = best[i][1]
      lists[best[i][1]].push(t)
    })
    list.length = 0
  }
}

/**
 * @param of region of each triangle, -1 for none; changed
 * @param within mm
 */
export function settleBorders(f: SkinField, of: Int32Array, shapes: readonly (Fitted | null)[], within: number): void {
  const { mesh, topology } = f
  const { twin } = topology
  const edge = (h: number) => edgeLength(mesh, h)
  const known = new Map<number, number>()
  /** How badly a triangle fits a region by itself. */
  const misfit = (t: number, r: number): number => {
    const shape = r < 0 ? null : shapes[r]
    if (!shape) return freeCost
    const key = t * shapes.length + r
    let cost = known.get(key)
    if (cost === undefined) {
      let sum = 0
      for (let c = 0; c < 3; c++) sum += (offShape(shape, vertex(mesh, mesh.triangles[3 * t + c])) / within) ** 2
      const m: Vec3 = [f.normals[3 * t], f.normals[3 * t + 1], f.normals[3 * t + 2]]
      const turn = dot(normalOf(shape, vertex(mesh, mesh.triangles[3 * t])), m) * (shape.inside ? -1 : 1)
      cost = sum / 3 + turnCost * (1 - turn)
      known.set(key, cost)
    }
    return cost
  }
  dissolve(of, shapes.length, twin, misfit)
  let front = [...of.keys()]
  for (let round = 0; round < rounds && front.length; round++) {
    const changed = new Set<number>()
    for (const t of front) {
      const beside = new Map<number, number>()
      let whole = 0
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const l = edge(h)
        whole += l
        if (twin[h] < 0) continue
        const r = of[triangleOf(twin[h])]
        beside.set(r, (beside.get(r) ?? 0) + l)
      }
      if (beside.size === 1 && beside.has(of[t])) continue
      let best = of[t],
        least = Infinity
      for (const r of new Set([of[t], ...beside.keys()])) {
        const cost = misfit(t, r) + borderCost * ((whole - (beside.get(r) ?? 0)) / (whole || 1))
        if (cost < least - 1e-9 || (r === of[t] && cost <= least + 1e-9)) {
          least = cost
          best = r
        }
      }
      if (best === of[t]) continue
      of[t] = best
      for (let h = 3 * t; h < 3 * t + 3; h++) if (twin[h] >= 0) changed.add(triangleOf(twin[h]))
      changed.add(t)
    }
    front = [...changed]
  }
  joinScraps(of, twin, edge, misfit)
}

/** A face of two triangles that is one by itself lies off its neighbours' shapes by so much. */
const clearlyOff = 4 * explained

/** Scraps that a region left behind go to what they border on most; a small face of its own stays. */
function joinScraps(
  of: Int32Array,
  twin: Int32Array,
  edge: (h: number) => number,
  misfit: (t: number, r: number) => number,
): void {
  const seen = new Uint8Array(of.length)
  for (let s = 0; s < of.length; s++) {
    if (seen[s]) continue
    const part = [s]
    seen[s] = 1
    const beside = new Map<number, number>()
    for (const t of part)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0) continue
        if (of[u] !== of[s]) beside.set(of[u], (beside.get(of[u]) ?? 0) + edge(h))
        else if (!seen[u]) {
          seen[u] = 1
          part.push(u)
        }
      }
    if (part.length >= leastPart || !beside.size) continue
    const [to] = [...beside].filter(([r]) => r >= 0).sort((a, b) => b[1] - a[1])[0] ?? [-1]
    if (to < 0) continue
    const own = of[s]
    const alone = part.length > 1 && part.every((t) => misfit(t, own) < explained && misfit(t, to) > clearlyOff)
    if (!alone) for (const t of part) of[t] = to
  }
}
