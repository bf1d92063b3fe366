/** Sharp edges of a mesh: the one nearest to a place, and the row of them that runs on without a bend. */
import { cross, distance, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'

/** Edges that bend more than this are sharp, degrees. */
const sharp = 20

export interface Crease {
  /** Its ends. */
  readonly from: Vec3
  readonly to: Vec3
  /** The place of it nearest to what was asked. */
  readonly at: Vec3
}

const nearOn = (a: Vec3, b: Vec3, p: Vec3): Vec3 => {
  const e = sub(b, a)
  const t = Math.max(0, Math.min(1, dot(sub(p, a), e) / (dot(e, e) || 1)))
  return [a[0] + t * e[0], a[1] + t * e[1], a[2] + t * e[2]]
}

/** The sharp edges of a mesh and how they hang together. */
export interface Creases {
  /** Half-edges, each edge once. */
  readonly list: readonly number[]
  /** By vertex. */
  readonly around: ReadonlyMap<number, readonly number[]>
}

const known = new WeakMap<TriMesh, Creases>()

/** Edges that are sharp or lie on a rim; found once for each mesh. */
export function creasesOf(mesh: TriMesh): Creases {
  let creases = known.get(mesh)
  if (!creases) known.set(mesh, (creases = find(mesh)))
  return creases
}

function find(mesh: TriMesh): Creases {
  const { twin } = buildTopology(mesh)
  const limit = Math.cos((sharp * Math.PI) / 180)
  const list: number[] = []
  const around = new Map<number, number[]>()
  for (let h = 0; h < twin.length; h++) {
    const over = twin[h]
    if (over > h) continue
    if (over >= 0) {
      const [n, m] = [crossOf(mesh, triangleOf(h)), crossOf(mesh, triangleOf(over))]
      const size = length(n) * length(m)
      if (!(size > 0) || dot(n, m) > limit * size) continue
    }
    list.push(h)
    for (const v of [mesh.triangles[h], mesh.triangles[nextIn(h)]]) {
      const some = around.get(v)
      if (some) some.push(h)
      else around.set(v, [h])
    }
  }
  return { list, around }
}

/** Numbers of the two vertices of a half-edge. */
export const endsOfCrease = (mesh: TriMesh, h: number): [number, number] => [
  mesh.triangles[h],
  mesh.triangles[nextIn(h)],
]

/**
 * The straight sharp edge nearest to a place: bits of it that lie in one line count as one. Null when the mesh has none.
 * @param p mm
 */
export function creaseNear(mesh: TriMesh, p: Vec3): Crease | null {
  const ends = (h: number): [Vec3, Vec3] => [vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)])]
  const { list: all, around } = creasesOf(mesh)
  let best = -1,
    least = Infinity
  for (const h of all) {
    const [a, b] = ends(h)
    const d = distance(nearOn(a, b, p), p)
    if (d < least) {
      least = d
      best = h
    }
  }
  if (best < 0) return null
  let [from, to] = ends(best)
  const way = normalize(sub(to, from))
  // Bits that carry on in the same line.
  const seen = new Set([best])
  const walk = (start: number): Vec3 => {
    let v = start
    for (;;) {
      const at = vertex(mesh, v)
      const next = (around.get(v) ?? []).find((h) => {
        if (seen.has(h)) return false
        const [a, b] = ends(h)
        return length(cross(normalize(sub(b, a)), way)) < 1e-4
      })
      if (next === undefined) return at
      seen.add(next)
      v = mesh.triangles[next] === v ? mesh.triangles[nextIn(next)] : mesh.triangles[next]
    }
  }
  from = walk(mesh.triangles[best])
  to = walk(mesh.triangles[nextIn(best)])
  return { from, to, at: nearOn(from, to, p) }
}
