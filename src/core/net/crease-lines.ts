/** The creases and rims of a skin as lines that corners of a net may lie on. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { addScaled, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'

/** 1 for half-edges at a rim, or that bend by more than an angle. */
export function creaseFlags(mesh: TriMesh, { twin }: Topology, degrees: number | null): Uint8Array {
  const normals = triangleNormals(mesh)
  const limit = degrees === null ? -2 : Math.cos((degrees * Math.PI) / 180)
  const out = new Uint8Array(twin.length)
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] < 0) {
      out[h] = 1
      continue
    }
    const [a, b] = [3 * triangleOf(h), 3 * triangleOf(twin[h])]
    if (normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2] < limit) out[h] = 1
  }
  return out
}

/** A crease runs on from edge to edge while it turns by less than this, degrees. */
const runsOn = 40

/**
 * Creases without the bits that noise makes: those run on for a length, or close, or join such as do at both ends. Rims stay.
 * @param least mm
 */
export function longCreases(mesh: TriMesh, { twin }: Topology, flags: Uint8Array, least: number): Uint8Array {
  const k = mesh.triangles
  const at = new Map<number, number[]>()
  const edges: number[] = []
  for (let h = 0; h < twin.length; h++) {
    if (!flags[h] || twin[h] > h) continue
    for (const v of [k[h], k[nextIn(h)]]) at.set(v, [...(at.get(v) ?? []), edges.length])
    edges.push(h)
  }
  const way = (e: number, v: number): Vec3 => {
    const h = edges[e]
    return normalize(sub(vertex(mesh, k[h] === v ? k[nextIn(h)] : k[h]), vertex(mesh, v)))
  }
  const lines = new DisjointSets(edges.length)
  const limit = -Math.cos((runsOn * Math.PI) / 180)
  for (const [v, list] of at)
    for (let i = 0; i < list.length; i++)
      for (let j = 0; j < i; j++) if (dot(way(list[i], v), way(list[j], v)) < limit) lines.unite(list[i], list[j])
  const length = new Float64Array(edges.length)
  const rim = new Uint8Array(edges.length)
  edges.forEach((h, e) => {
    length[lines.find(e)] += Math.hypot(...sub(vertex(mesh, k[nextIn(h)]), vertex(mesh, k[h])))
    if (twin[h] < 0) rim[lines.find(e)] = 1
  })
  const keeps = new Uint8Array(edges.length)
  edges.forEach((_, e) => (keeps[lines.find(e)] = length[lines.find(e)] >= least || rim[lines.find(e)] ? 1 : 0))
  // Short ones between two that stay.
  for (let round = 0; round < 3; round++) {
    const meets = new Map<number, Set<number>>()
    for (const [v, list] of at)
      if (list.some((e) => keeps[lines.find(e)]))
        for (const e of list)
          if (!keeps[lines.find(e)]) {
            const s = meets.get(lines.find(e))
            if (s) s.add(v)
            else meets.set(lines.find(e), new Set([v]))
          }
    for (const [run, ends] of meets) if (ends.size >= 2) keeps[run] = 1
  }
  const out = new Uint8Array(flags.length)
  edges.forEach((h, e) => {
    if (!keeps[lines.find(e)]) return
    out[h] = 1
    if (twin[h] >= 0) out[twin[h]] = 1
  })
  return out
}

/** Lines that bend by more than this at a vertex have a corner there, degrees. */
const cornerBend = 55

/** 1 for vertices on a crease, 2 where creases end, meet or bend sharply. */
export function creaseVertices(mesh: TriMesh, { twin }: Topology, flags: Uint8Array): Uint8Array {
  const ends = new Map<number, Set<number>>()
  const add = (a: number, b: number) => {
    const s = ends.get(a)
    if (s) s.add(b)
    else ends.set(a, new Set([b]))
  }
  for (let h = 0; h < twin.length; h++) {
    if (!flags[h]) continue
    const [a, b] = [mesh.triangles[h], mesh.triangles[nextIn(h)]]
    add(a, b)
    add(b, a)
  }
  const out = new Uint8Array(mesh.positions.length / 3)
  const limit = Math.cos((cornerBend * Math.PI) / 180)
  for (const [v, others] of ends) {
    out[v] = 1
    if (others.size !== 2) {
      out[v] = 2
      continue
    }
    const [a, b] = [...others].map((o) => sub(vertex(mesh, o), vertex(mesh, v)))
    if (dot(a, b) > -limit * Math.sqrt(dot(a, a) * dot(b, b))) out[v] = 2
  }
  return out
}

/** Segments found by cells. */
export class CreaseLines {
  private readonly cells = new Map<string, number[]>()
  private readonly cell: number
  private readonly segments: [Vec3, Vec3][] = []

  constructor(mesh: TriMesh, { twin }: Topology, flags: Uint8Array, reach: number) {
    this.cell = Math.max(reach, 1e-9)
    for (let h = 0; h < twin.length; h++) {
      if (!flags[h] || twin[h] > h) continue
      this.add(vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)]))
    }
  }

  /** One more segment. */
  add(a: Vec3, b: Vec3): void {
    const i = this.segments.length
    this.segments.push([a, b])
    const length = Math.hypot(...sub(b, a))
    const steps = Math.max(1, Math.ceil((2 * length) / this.cell))
    let last = ''
    for (let s = 0; s <= steps; s++) {
      const key = this.keyOf(addScaled(a, sub(b, a), s / steps), 0, 0, 0)
      if (key === last) continue
      last = key
      const list = this.cells.get(key)
      if (list) list.push(i)
      else this.cells.set(key, [i])
    }
  }

  private keyOf(p: Vec3, x: number, y: number, z: number): string {
    return `${Math.floor(p[0] / this.cell) + x} ${Math.floor(p[1] / this.cell) + y} ${Math.floor(p[2] / this.cell) + z}`
  }

  /** The nearest place on a line within about the reach; null where there is none. */
  nearest(p: Vec3): Vec3 | null {
    let best: Vec3 | null = null
    let least = Infinity
    for (let x = -1; x <= 1; x++)
      for (let y = -1; y <= 1; y++)
        for (let z = -1; z <= 1; z++)
          for (const i of this.cells.get(this.keyOf(p, x, y, z)) ?? []) {
            const [a, b] = this.segments[i]
            const d = sub(b, a)
            const s = Math.max(0, Math.min(1, dot(sub(p, a), d) / (dot(d, d) || 1e-300)))
            const q = addScaled(a, d, s)
            const off = dot(sub(p, q), sub(p, q))
            if (off < least) {
              least = off
              best = q
            }
          }
    return best
  }
}
