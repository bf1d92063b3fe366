/**
 * A mesh as a body of flat faces: triangles in one plane become one face with its holes, bits of an edge in one line become one edge.
 * Faces grow from their largest triangle, as long as triangles lie in its plane (region growing; Attene, Falcidieno & Spagnuolo 2006).
 */
import { addScaled, cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, findPieces, nextIn, triangleOf } from './topology'
import { triangleCount, vertex, vertexCount, type TriMesh } from './tri-mesh'
import { crossOf } from './triangle'

export interface FlatFace {
  readonly at: Vec3
  /** Unit, outward. */
  readonly normal: Vec3
  /** Corner numbers, material to the left: the outer loop first, then holes. */
  readonly loops: readonly (readonly number[])[]
}

export interface Polyhedron {
  readonly corners: readonly Vec3[]
  readonly faces: readonly FlatFace[]
  /** The face of each triangle. */
  readonly of: Int32Array
  readonly closed: boolean
  /** The connected piece that each face belongs to. */
  readonly piece: Int32Array
  /** How far corners had to be moved to lie in all their planes, mm. */
  readonly moved: number
}

/**
 * The face of each triangle: those whose corners lie within `distance` mm of a plane and whose normals bend less than `degrees` from it.
 * The first faces are those that are told, whatever they are like.
 */
function regionsOf(
  mesh: TriMesh,
  twin: Int32Array,
  degrees: number,
  distance: number,
  told: readonly (readonly number[])[],
): { of: Int32Array; count: number } {
  const n = triangleCount(mesh)
  const crosses = Array.from({ length: n }, (_, t) => crossOf(mesh, t))
  const sizes = crosses.map(length)
  const order = Array.from({ length: n }, (_, t) => t).sort((a, b) => sizes[b] - sizes[a] || a - b)
  const of = new Int32Array(n).fill(-1)
  const limit = Math.cos((degrees * Math.PI) / 180)
  told.forEach((list, i) => {
    for (const t of list) of[t] = i
  })
  let count = told.length
  for (const seed of order) {
    if (of[seed] >= 0 || !(sizes[seed] > 0)) continue
    const normal = normalize(crosses[seed])
    const level = dot(vertex(mesh, mesh.triangles[3 * seed]), normal)
    const flat = (t: number) => {
      for (let c = 0; c < 3; c++)
        if (Math.abs(dot(vertex(mesh, mesh.triangles[3 * t + c]), normal) - level) > distance) return false
      return !(sizes[t] > 0) || dot(crosses[t], normal) >= limit * sizes[t]
    }
    of[seed] = count
    const stack = [seed]
    while (stack.length) {
      const t = stack.pop()!
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const over = twin[h] >= 0 ? triangleOf(twin[h]) : -1
        if (over < 0 || of[over] >= 0 || !flat(over)) continue
        of[over] = count
        stack.push(over)
      }
    }
    count++
  }
  // Triangles without room go with a neighbour.
  for (let again = true; again;) {
    again = false
    for (let t = 0; t < n; t++)
      if (of[t] < 0)
        for (let h = 3 * t; h < 3 * t + 3; h++) {
          const over = twin[h] >= 0 ? of[triangleOf(twin[h])] : -1
          if (over < 0) continue
          of[t] = over
          again = true
          break
        }
  }
  return { of, count }
}

/** The place nearest to `p` that lies in all planes, by least squares (normal equations with a little of the identity). */
function inPlanes(p: Vec3, planes: readonly { at: Vec3; normal: Vec3 }[]): Vec3 {
  const a = [1e-9, 0, 0, 1e-9, 0, 1e-9]
  const b = [0, 0, 0]
  for (const { at, normal: m } of planes) {
    const off = dot(sub(at, p), m)
    a[0] += m[0] * m[0]
    a[1] += m[0] * m[1]
    a[2] += m[0] * m[2]
    a[3] += m[1] * m[1]
    a[4] += m[1] * m[2]
    a[5] += m[2] * m[2]
    for (let k = 0; k < 3; k++) b[k] += off * m[k]
  }
  const r0: Vec3 = [a[0], a[1], a[2]],
    r1: Vec3 = [a[1], a[3], a[4]],
    r2: Vec3 = [a[2], a[4], a[5]]
  const det = dot(r0, cross(r1, r2))
  if (!(Math.abs(det) > 0)) return p
  const v = b as unknown as Vec3
  const x = dot(v, cross(r1, r2)) / det
  const y = dot(r0, cross(v, r2)) / det
  const z = dot(r0, cross(r1, v)) / det
  return [p[0] + x, p[1] + y, p[2] + z]
}

/** Corners lie in their planes to this, mm: well within what the kernel takes for one. */
const exact = 4e-8
const rounds = 6

/** Where a told plane meets others, corners move by so many times what its own lie off it. */
const toldTimes = 4

/** The planes of faces, which faces meet in each vertex, and where it lies so that it is in all of them; the first `told` faces were told. */
function settle(mesh: TriMesh, twin: Int32Array, of: Int32Array, count: number, distance: number, told: number) {
  const tri = mesh.triangles
  // By their areas together (Newell) and the middle of their corners.
  const sums = Array.from({ length: count }, () => [0, 0, 0]),
    middles = Array.from({ length: count }, () => [0, 0, 0, 0]),
    many = new Uint32Array(count)
  for (let t = 0; t < of.length; t++) {
    if (of[t] < 0) continue
    const c = crossOf(mesh, t),
      m = middles[of[t]]
    many[of[t]]++
    for (let k = 0; k < 3; k++) sums[of[t]][k] += c[k]
    for (let i = 0; i < 3; i++) {
      const p = vertex(mesh, tri[3 * t + i])
      for (let k = 0; k < 3; k++) m[k] += p[k]
      m[3]++
    }
  }
  const planes = sums.map((s, i) => ({
    normal: normalize(s as unknown as Vec3),
    at: [0, 1, 2].map((k) => middles[i][k] / middles[i][3]) as unknown as Vec3,
  }))
  const around = Array.from({ length: vertexCount(mesh) }, () => new Set<number>())
  /** How many of a vertex's edges lie between two faces. */
  const ridges = new Uint8Array(vertexCount(mesh))
  for (let h = 0; h < twin.length; h++) {
    around[tri[h]].add(of[triangleOf(h)])
    if (twin[h] >= 0 && of[triangleOf(twin[h])] === of[triangleOf(h)]) continue
    ridges[tri[h]] = Math.min(200, ridges[tri[h]] + 1)
    if (twin[h] < 0) ridges[tri[nextIn(h)]] = Math.min(200, ridges[tri[nextIn(h)]] + 1)
  }
  // How far the corners of told faces lie off their planes.
  const off = new Float64Array(told)
  for (let t = 0; t < of.length; t++) {
    if (of[t] < 0 || of[t] >= told) continue
    const { at, normal } = planes[of[t]]
    for (let c = 0; c < 3; c++)
      off[of[t]] = Math.max(off[of[t]], Math.abs(dot(sub(vertex(mesh, tri[3 * t + c]), at), normal)))
  }
  const reach = (faces: Iterable<number>) => {
    let most = 2 * distance
    for (const f of faces) if (f >= 0 && f < told) most = Math.max(most, 2 * distance + toldTimes * off[f])
    return most
  }
  let moved = 0
  const places = around.map((faces, v): Vec3 => {
    const p = vertex(mesh, v)
    const some = [...faces].filter((f) => f >= 0 && many[f] > 1).map((f) => planes[f])
    if (!some.length) return p
    const q =
      some.length < 2 ? addScaled(p, some[0].normal, dot(sub(some[0].at, p), some[0].normal)) : inPlanes(p, some)
    const d = length(sub(q, p))
    // Planes that nearly fall together tell no place.
    if (some.length > 1 && d > reach(faces)) return p
    moved = Math.max(moved, d)
    return q
  })
  return { planes, many, places, around, ridges, moved }
}

/** Faces settled into planes; those whose corners cannot all be brought into theirs come apart into their triangles. */
function settledFaces(
  mesh: TriMesh,
  twin: Int32Array,
  degrees: number,
  distance: number,
  told: readonly (readonly number[])[],
): { of: Int32Array; count: number; held: ReturnType<typeof settle> } {
  const { of, count: whole } = regionsOf(mesh, twin, degrees, distance, told)
  let count = whole
  const tri = mesh.triangles
  let held = settle(mesh, twin, of, count, distance, told.length)
  for (let round = 0; round < rounds; round++) {
    const apart = new Set<number>()
    for (let t = 0; t < of.length; t++) {
      const f = of[t]
      if (f < 0 || held.many[f] < 2 || apart.has(f)) continue
      const { at, normal } = held.planes[f]
      for (let c = 0; c < 3; c++) if (Math.abs(dot(sub(held.places[tri[3 * t + c]], at), normal)) > exact) apart.add(f)
    }
    if (!apart.size) break
    const first = new Set<number>()
    for (let t = 0; t < of.length; t++) {
      if (!apart.has(of[t])) continue
      if (first.has(of[t])) of[t] = count++
      else first.add(of[t])
    }
    held = settle(mesh, twin, of, count, distance, told.length)
  }
  return { of, count, held }
}

/** Loops of vertices round each face, of all edges between faces. */
function loopsRound({ triangles: tri }: TriMesh, twin: Int32Array, of: Int32Array): { face: number; loop: number[] }[] {
  const between = (h: number) => twin[h] < 0 || of[triangleOf(twin[h])] !== of[triangleOf(h)]
  // The next edge round a face from one that ends in a vertex.
  const following = (h: number): number => {
    let g = nextIn(h)
    while (!between(g)) g = nextIn(twin[g])
    return g
  }
  const used = new Uint8Array(twin.length)
  const raw: { face: number; loop: number[] }[] = []
  for (let h = 0; h < twin.length; h++) {
    if (used[h] || !between(h) || of[triangleOf(h)] < 0) continue
    const loop: number[] = []
    for (let g = h; !used[g]; g = following(g)) {
      used[g] = 1
      loop.push(tri[g])
    }
    raw.push({ face: of[triangleOf(h)], loop })
  }
  return raw
}

/**
 * @param degrees triangles of one face bend less than this from its plane
 * @param distance their corners lie within this of it, mm
 * @param told triangles of each of some faces that are to be one plane whatever they are like; corners move into it
 * The mesh must be manifold and face one way round.
 */
export function polyhedronOf(
  mesh: TriMesh,
  degrees: number,
  distance: number,
  told: readonly (readonly number[])[] = [],
): Polyhedron {
  const topology = buildTopology(mesh)
  const { twin, openEdges } = topology
  const { of, count, held } = settledFaces(mesh, twin, degrees, distance, told)
  const { planes, many, places, around, ridges, moved } = held
  const raw = loopsRound(mesh, twin, of)
  // A vertex between two faces only is none where the edge runs straight on.
  const keep = new Uint8Array(vertexCount(mesh)).fill(1)
  for (const { loop } of raw)
    loop.forEach((v, i) => {
      if (around[v].size > 2 || ridges[v] !== 2) return
      const [a, b] = [places[loop[(i + loop.length - 1) % loop.length]], places[loop[(i + 1) % loop.length]]]
      const d = sub(b, a)
      const off = length(cross(sub(places[v], a), d)) / (length(d) || 1)
      const on = dot(sub(places[v], a), d) > 0 && dot(sub(b, places[v]), d) > 0
      keep[v] = off <= Math.max(1e-7, distance / 10) && on ? 0 : 1
    })
  const number = new Int32Array(vertexCount(mesh)).fill(-1)
  const corners: Vec3[] = []
  const cornerOf = (v: number) => (number[v] < 0 ? (number[v] = corners.push(places[v]) - 1) : number[v])
  const loops = Array.from({ length: count }, (): number[][] => [])
  for (const { face, loop } of raw) {
    const list = loop.filter((v) => keep[v])
    // A loop that was straight all along keeps what it had.
    loops[face].push((list.length > 2 ? list : loop).map(cornerOf))
  }
  const area = (loop: readonly number[], normal: Vec3) => {
    let s = 0
    for (let i = 1; i + 1 < loop.length; i++)
      s += dot(cross(sub(corners[loop[i]], corners[loop[0]]), sub(corners[loop[i + 1]], corners[loop[0]])), normal)
    return s
  }
  const faces = loops.map((list, i): FlatFace => {
    const { normal, at } = planes[i]
    const sorted = [...list].sort((a, b) => area(b, normal) - area(a, normal))
    // A lone triangle's plane is the one of its corners as they are now.
    if (many[i] === 1 && sorted[0]?.length === 3) {
      const [a, b, c] = sorted[0].map((k) => corners[k])
      return { at: a, normal: normalize(cross(sub(b, a), sub(c, a))), loops: sorted }
    }
    return { at, normal, loops: sorted }
  })
  const pieces = findPieces(mesh, topology).piece
  const piece = new Int32Array(count)
  of.forEach((f, t) => {
    if (f >= 0) piece[f] = pieces[t]
  })
  return { corners, faces, of, closed: openEdges === 0, piece, moved }
}
