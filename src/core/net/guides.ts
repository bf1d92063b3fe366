/**
 * Curves that a net is to follow, laid on its working mesh: the way along its edges that stays nearest to each (shortest paths; Dijkstra 1959)
 * becomes a line of the net, and the corners on it move on to the curve.
 */
import { addScaled, cross, distance, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { NearestInGrid } from '@/core/mesh/nearest'
import { nextIn, type Topology } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'

/** A curve in space, mm. */
export interface Guide {
  readonly places: readonly Vec3[]
  readonly closed: boolean
}

/**
 * A guide on a skin: the runs of it that lie within a reach, brought on to the skin.
 * @param step mm: places are at most so far apart
 * @param reach mm
 */
export function guideOn({ places, closed }: Guide, skin: NearestInGrid, step: number, reach: number): Guide[] {
  const row = closed ? [...places, places[0]] : places
  const runs: Vec3[][] = [[]]
  let whole = true
  for (let i = 0; i + 1 < row.length; i++) {
    const pieces = Math.max(1, Math.ceil(distance(row[i], row[i + 1]) / step))
    for (let s = i ? 1 : 0; s <= pieces; s++) {
      const p = addScaled(row[i], sub(row[i + 1], row[i]), s / pieces)
      if (Math.sqrt(skin.square(p[0], p[1], p[2])) <= reach) runs[runs.length - 1].push([skin.x, skin.y, skin.z])
      else {
        whole = false
        if (runs[runs.length - 1].length) runs.push([])
      }
    }
  }
  const long = runs.filter((r) => r.length > 2)
  if (closed && whole && long.length === 1) return [{ places: long[0].slice(0, -1), closed: true }]
  // A closed one that leaves the skin somewhere runs on over its own start.
  if (
    closed &&
    long.length > 1 &&
    distance(long[0][0], long[long.length - 1][long[long.length - 1].length - 1]) < 2 * step
  )
    long[0] = [...long.pop()!, ...long[0].slice(1)]
  return long.map((r) => ({ places: r, closed: false }))
}

/** A way is sought from place to place, so many edges apart, so that it keeps to its curve where that comes near itself. */
const edgesApart = 8
/** Corners within so many edges of a curve may be on its way. */
const nearEdges = 1.6
/** How much farther a way seems that runs beside its curve, for each edge's length of distance. */
const asideCost = 4

/** The nearest place of a row of places, and how far it is. */
function nearestOn(row: readonly Vec3[], p: Vec3): { at: Vec3; off: number } {
  let best: { at: Vec3; off: number } = { at: row[0], off: Infinity }
  for (let i = 0; i + 1 < row.length; i++) {
    const d = sub(row[i + 1], row[i])
    const s = Math.max(0, Math.min(1, dot(sub(p, row[i]), d) / (dot(d, d) || 1e-300)))
    const at = addScaled(row[i], d, s)
    const off = distance(at, p)
    if (off < best.off) best = { at, off }
  }
  return best
}

function neighboursOf(mesh: TriMesh): Set<number>[] {
  const out = Array.from({ length: mesh.positions.length / 3 }, () => new Set<number>())
  for (let h = 0; h < mesh.triangles.length; h++) {
    const [a, b] = [mesh.triangles[h], mesh.triangles[nextIn(h)]]
    out[a].add(b)
    out[b].add(a)
  }
  return out
}

/** The cheapest way along edges between two corners among those allowed; null without one. */
function wayBetween(
  from: number,
  to: number,
  beside: readonly Set<number>[],
  cost: (a: number, b: number) => number,
): number[] | null {
  const far = new Map([[from, 0]])
  const before = new Map<number, number>()
  const done = new Set<number>()
  // Few corners lie near a curve: a plain list serves as the queue.
  const open = new Set([from])
  while (open.size) {
    let v = -1
    for (const u of open) if (v < 0 || far.get(u)! < far.get(v)!) v = u
    open.delete(v)
    if (v === to) {
      const way = [to]
      while (way[0] !== from) way.unshift(before.get(way[0])!)
      return way
    }
    done.add(v)
    for (const u of beside[v]) {
      if (done.has(u)) continue
      const c = far.get(v)! + cost(v, u)
      if (c >= (far.get(u) ?? Infinity)) continue
      far.set(u, c)
      before.set(u, v)
      open.add(u)
    }
  }
  return null
}

/** A way without the loops in which it comes back to a corner. */
function withoutLoops(way: readonly number[]): number[] {
  const out: number[] = []
  for (const v of way) {
    const i = out.indexOf(v)
    if (i >= 0) out.length = i
    out.push(v)
  }
  return out
}

/** Rounds in which the corners beside a line give way to it. */
const giveWay = 4

export interface Laid {
  readonly mesh: TriMesh
  /** 1 for the half-edges of the lines that were laid. */
  readonly flags: Uint8Array
}

/** A mesh that guides are laid on. */
interface Ground {
  readonly mesh: TriMesh
  readonly beside: ReturnType<typeof neighboursOf>
  readonly skin: NearestInGrid
  /** mm: about the length of an edge. */
  readonly edge: number
}

/** The vertices that a guide runs along, and where those near it are to stand. */
function wayOf({ mesh, beside, skin, edge }: Ground, { places, closed }: Guide) {
  const row = closed ? [...places, places[0]] : [...places]
  const near = new Map<number, { at: Vec3; off: number }>()
  for (let v = 0; v < beside.length; v++) {
    const n = nearestOn(row, vertex(mesh, v))
    if (n.off <= nearEdges * edge) near.set(v, n)
  }
  // By the triangle that a place lies on: another skin may be as near as its corners.
  const closest = (p: Vec3) => {
    skin.square(p[0], p[1], p[2])
    const ids = [0, 1, 2].map((c) => mesh.triangles[3 * skin.triangle + c])
    return ids.reduce((a, b) => (distance(vertex(mesh, b), p) < distance(vertex(mesh, a), p) ? b : a))
  }
  const cost = (a: number, b: number) => {
    const [m, n] = [near.get(a), near.get(b)]
    return m && n
      ? distance(vertex(mesh, a), vertex(mesh, b)) * (1 + (asideCost * (m.off + n.off)) / 2 / edge)
      : Infinity
  }
  let whole = 0
  for (let i = 0; i + 1 < row.length; i++) whole += distance(row[i], row[i + 1])
  const parts = Math.max(closed ? 3 : 1, Math.round(whole / (edgesApart * edge)))
  const via = Array.from({ length: parts + 1 }, (_, i) => closest(row[Math.round((i / parts) * (row.length - 1))]))
  const way: number[] = [via[0]]
  for (let i = 0; i < parts; i++) {
    const run = via[i] === via[i + 1] ? null : wayBetween(via[i], via[i + 1], beside, cost)
    if (run) way.push(...run.slice(1))
  }
  const clear = closed ? [...withoutLoops(way.slice(0, -1)), way[0]] : withoutLoops(way)
  return { clear, near }
}

/** What lies beside moved vertices evens out on the skin; a corner that would turn a triangle over goes back. Changes `positions`. */
function evenOut(
  { mesh, beside, skin }: Ground,
  positions: Float32Array,
  moved: ReadonlyMap<number, Vec3>,
  stays: Uint8Array,
): void {
  const around = new Set<number>()
  for (const v of moved.keys())
    for (const u of beside[v]) for (const w of beside[u]) if (!moved.has(w) && !stays[w]) around.add(w)
  for (let round = 0; round < giveWay; round++)
    for (const v of around) {
      const mean = [0, 0, 0]
      for (const u of beside[v]) for (let k = 0; k < 3; k++) mean[k] += positions[3 * u + k] / beside[v].size
      skin.square(mean[0], mean[1], mean[2])
      positions.set([skin.x, skin.y, skin.z], 3 * v)
    }
  // A corner that would turn a triangle over stays where it was.
  const normalOf = (m: TriMesh, t: number): Vec3 => {
    const [a, b, c] = [0, 1, 2].map((k) => vertex(m, m.triangles[3 * t + k]))
    return cross(sub(b, a), sub(c, a))
  }
  for (let t = 0; t < mesh.triangles.length / 3; t++) {
    const ids = [0, 1, 2].map((k) => mesh.triangles[3 * t + k])
    if (!ids.some((v) => moved.has(v) || around.has(v))) continue
    const [n, m] = [normalOf({ positions, triangles: mesh.triangles }, t), normalOf(mesh, t)]
    if (dot(n, m) > 0.1 * length(n) * length(m)) continue
    for (const v of ids) if (moved.has(v) || around.has(v)) positions.set(vertex(mesh, v), 3 * v)
  }
}

/**
 * Guides as lines of a working mesh.
 * @param guides on the skin
 * @param fixed 1 for half-edges that are lines already; their corners stay
 * @param edge mm: about the length of an edge
 */
export function layGuides(
  mesh: TriMesh,
  { twin }: Topology,
  guides: readonly Guide[],
  fixed: Uint8Array,
  edge: number,
): Laid {
  const flags = new Uint8Array(mesh.triangles.length)
  if (!guides.length) return { mesh, flags }
  const positions = mesh.positions.slice()
  const ground: Ground = { mesh, beside: neighboursOf(mesh), skin: new NearestInGrid(mesh), edge }
  const stays = new Uint8Array(ground.beside.length)
  for (let h = 0; h < fixed.length; h++) if (fixed[h]) stays[mesh.triangles[h]] = stays[mesh.triangles[nextIn(h)]] = 1
  const halfEdge = new Map<number, number>()
  for (let h = 0; h < twin.length; h++) halfEdge.set(edgeKey(mesh.triangles[h], mesh.triangles[nextIn(h)]), h)
  const moved = new Map<number, Vec3>()
  for (const guide of guides) {
    const { clear, near } = wayOf(ground, guide)
    for (let i = 0; i + 1 < clear.length; i++) {
      const h = halfEdge.get(edgeKey(clear[i], clear[i + 1]))
      if (h === undefined) continue
      flags[h] = 1
      if (twin[h] >= 0) flags[twin[h]] = 1
    }
    for (const v of clear) if (!stays[v]) moved.set(v, near.get(v)?.at ?? vertex(mesh, v))
  }
  for (const [v, p] of moved) p.forEach((x, k) => (positions[3 * v + k] = x))
  evenOut(ground, positions, moved, stays)
  return { mesh: { positions, triangles: mesh.triangles }, flags }
}
