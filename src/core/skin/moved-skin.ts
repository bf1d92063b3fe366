/**
 * The raw parallel skin of a closed mesh: every triangle moved along its own normal, corners where the moved planes meet, and where an edge
 * is to be round or too sharp for that, a strip of the rolling ball between (the convolution of the skin with a ball; Guibas, Ramshaw &
 * Stolfi 1983; Campen & Kobbelt 2010). It may cross itself; what of it counts is told by `offsetMesh`.
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { symmetricEigen } from '@/core/math/eigen'
import { add, cross, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, nextIn, prevIn, triangleOf } from '@/core/mesh/topology'
import { crossInto, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'

export type Corners = 'sharp' | 'round'

export interface MovedSkin {
  /** Closed and running one way round as the input does; may cross itself. */
  readonly mesh: TriMesh
  /** Greatest distance by which a moved corner misses the plane of one of its moved triangles, mm. */
  readonly miss: number
}

/** Turn of an edge, degrees, over which it gets a strip: sharp skins only where the corner would run out too far. */
const roundOver = 20
const sharpOver = 110
/** A corner further out than this many distances is laid round. */
const furthest = 2.3
/** A corner that misses a plane by more than this share is parted along its edges of over `partOver` degrees. */
const missShare = 0.02
const partOver = 12
/**
 * Directions in which planes differ less than this (sine squared of their spread) are one: no corner is sought there. The loose share takes
 * facets of one round wall for one, so that corners along its rims may slide.
 */
const flatShare = { exact: 6e-4, loose: 0.012 }
/** Rounds in which corners slide along their planes to turn triangles back that came out the wrong way round. */
const slides = 40
/** Turn of the ball between two rows of a strip, degrees: its sag is 0.2 % of the distance. */
const stepOf = 7.5

const degrees = (a: number) => (a * 180) / Math.PI

interface Meeting {
  readonly way: Vec3
  /** Directions in which a place may slide and still lie on all planes. */
  readonly free: readonly Vec3[]
}

/** Where the planes of some triangles, all moved by 1, meet: the shortest way there that holds them best. */
function meeting(normals: readonly Vec3[], weights: readonly number[], flat: number): Meeting {
  const m = [0, 0, 0, 0, 0, 0]
  const b = [0, 0, 0]
  normals.forEach(([x, y, z], i) => {
    const w = weights[i]
    const terms = [x * x, x * y, x * z, y * y, y * z, z * z]
    terms.forEach((v, k) => (m[k] += w * v))
    b[0] += w * x
    b[1] += w * y
    b[2] += w * z
  })
  const { values, vectors } = symmetricEigen(m)
  let way: Vec3 = [0, 0, 0]
  const free: Vec3[] = []
  for (let e = 0; e < 3; e++)
    if (values[e] < flat * (values[0] + values[1] + values[2])) free.push(vectors[e])
    else way = add(way, scale(vectors[e], dot(vectors[e], [b[0], b[1], b[2]]) / values[e]))
  return { way, free }
}

/** A way between two ways, turned evenly and its length changed evenly. */
function between(a: Vec3, b: Vec3, s: number): Vec3 {
  const la = length(a),
    lb = length(b)
  const angle = Math.acos(Math.max(-1, Math.min(1, dot(a, b) / (la * lb || 1))))
  const sin = Math.sin(angle)
  if (sin < 1e-6) return add(scale(a, 1 - s), scale(b, s))
  const way = add(scale(a, Math.sin((1 - s) * angle) / (sin * la)), scale(b, Math.sin(s * angle) / (sin * lb)))
  return scale(way, la + s * (lb - la))
}

/**
 * @param mesh closed, manifold and running one way round
 * @param by distance outward, mm; below zero inward
 * @param options.loose facets of a round wall count as one and corners slide so that triangles keep their facing, at the cost of half a
 * percent of the distance at most
 */
export function movedSkin(
  mesh: TriMesh,
  by: number,
  { corners, loose = false }: { corners: Corners; loose?: boolean },
  work: Work = quiet,
): MovedSkin {
  const { positions: p, triangles: k } = mesh
  const { twin } = buildTopology(mesh)
  const n = triangleCount(mesh)
  const side = Math.sign(by)
  const normals: Vec3[] = []
  /** Angle at each corner: what its triangle counts for there, however the rest is cut up. */
  const angle = new Float64Array(3 * n)
  const c = new Float64Array(3)
  for (let t = 0; t < n; t++) {
    if ((t & 8191) === 0) checkStop(work)
    const size = crossInto(p, k, t, c)
    normals.push(size > 0 ? normalize([c[0], c[1], c[2]]) : [0, 0, 0])
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const at = vertex(mesh, k[h])
      const u = sub(vertex(mesh, k[nextIn(h)]), at),
        v = sub(vertex(mesh, k[prevIn(h)]), at)
      angle[h] = Math.atan2(length(cross(u, v)), dot(u, v))
    }
  }
  /** Turn at each edge, degrees: above zero where the moved skin opens. */
  const turn = new Float64Array(3 * n)
  for (let h = 0; h < 3 * n; h++) {
    const g = twin[h]
    if (g < h) continue
    const a = normals[triangleOf(h)],
      b = normals[triangleOf(g)]
    const x = cross(a, b)
    const along = sub(vertex(mesh, k[nextIn(h)]), vertex(mesh, k[h]))
    turn[h] = turn[g] = side * Math.sign(dot(x, along)) * degrees(Math.atan2(length(x), dot(a, b)))
  }
  const limit = corners === 'round' ? roundOver : sharpOver
  const parted = new Uint8Array(3 * n)
  for (let h = 0; h < 3 * n; h++) if (turn[h] > limit) parted[h] = 1

  // Corners round a vertex with no parted edge between them are one sector and move together.
  const sector = new Int32Array(3 * n)
  let ways: Vec3[] = []
  let free: (readonly Vec3[])[] = []
  const flat = loose ? flatShare.loose : flatShare.exact
  let members: number[][] = []
  const sectors = () => {
    sector.fill(-1)
    ways = []
    free = []
    members = []
    for (let h = 0; h < 3 * n; h++) {
      if ((h & 8191) === 0) checkStop(work)
      if (sector[h] >= 0) continue
      // Back to where a parted edge begins the sector, or once round.
      let first = h
      for (let g = h; !parted[g];) {
        g = nextIn(twin[g])
        if (g === h) break
        first = g
      }
      const list: number[] = []
      for (let g = first; ;) {
        sector[g] = members.length
        list.push(g)
        const back = prevIn(g)
        if (parted[back]) break
        g = twin[back]
        if (g === first) break
      }
      members.push(list)
      const m = meeting(
        list.map((g) => normals[triangleOf(g)]),
        list.map((g) => angle[g]),
        flat,
      )
      ways.push(m.way)
      free.push(m.free)
    }
  }
  const missOf = (s: number) => {
    let miss = 0
    for (const g of members[s]) {
      const m = normals[triangleOf(g)]
      if (angle[g] > 1e-3 && (m[0] || m[1] || m[2])) miss = Math.max(miss, Math.abs(dot(m, ways[s]) - 1))
    }
    return miss
  }
  const part = (h: number) => (parted[h] = parted[twin[h]] = 1)
  // Where the ball rolls over one edge of a vertex, only the planes themselves meet a hollow edge there at the right distance.
  const rolls = new Uint8Array(p.length / 3)
  for (let h = 0; h < 3 * n; h++) if (parted[h]) rolls[k[h]] = 1
  for (let h = 0; h < 3 * n; h++) if (turn[h] < -partOver && rolls[k[h]]) part(h)
  for (let round = 0; ; round++) {
    sectors()
    if (round === 3) break
    let more = false
    for (let s = 0; s < members.length; s++) {
      const far = length(ways[s]) > furthest
      if (!far && missOf(s) <= missShare) continue
      const inner = members[s].map(prevIn).filter((h) => !parted[h])
      const sharp = inner.filter((h) => Math.abs(turn[h]) > partOver)
      // The tip of a cone has no sharp edge, yet no corner within reach.
      const opened = !sharp.length && far ? inner : sharp
      opened.forEach(part)
      if (opened.length) more = true
    }
    if (!more) break
  }
  if (loose) slide()

  const positions: number[] = []
  const triangles: number[] = []
  const put = (v: number, way: Vec3): number => {
    for (let a = 0; a < 3; a++) positions.push(p[3 * v + a] + by * way[a])
    return positions.length / 3 - 1
  }
  let miss = 0
  const numbers = members.map((list, s) => {
    miss = Math.max(miss, missOf(s))
    return put(k[list[0]], ways[s])
  })
  const wayAt = new Map<number, Vec3>()
  numbers.forEach((v, s) => wayAt.set(v, ways[s]))
  for (let h = 0; h < 3 * n; h++) triangles.push(numbers[sector[h]])
  turnDiagonals(
    triangles,
    twin.slice(),
    positions,
    normals,
    Math.cos((loose ? onePlane.loose : onePlane.exact) * (Math.PI / 180)),
  )
  /** The ball's way from one sector of a vertex to another; the same numbers whichever edge asks. */
  const arcs = new Map<string, number[]>()
  const arc = (v: number, s: number, t: number): number[] => {
    if (s === t) return [numbers[s]]
    const forward = s < t
    const key = forward ? `${s} ${t}` : `${t} ${s}`
    let list = arcs.get(key)
    if (!list) {
      const [a, b] = forward ? [s, t] : [t, s]
      const open = Math.acos(Math.max(-1, Math.min(1, dot(normalize(ways[a]), normalize(ways[b])))))
      const steps = Math.max(1, Math.ceil(degrees(open) / stepOf))
      list = [numbers[a]]
      for (let i = 1; i < steps; i++) {
        const way = between(ways[a], ways[b], i / steps)
        const id = put(v, way)
        wayAt.set(id, way)
        list.push(id)
      }
      list.push(numbers[b])
      arcs.set(key, list)
    }
    return forward ? list : [...list].reverse()
  }
  for (let h = 0; h < 3 * n; h++) {
    const g = twin[h]
    if (!parted[h] || g < h) continue
    const one = arc(k[h], sector[h], sector[nextIn(g)]),
      other = arc(k[nextIn(h)], sector[nextIn(h)], sector[g])
    zip(one, other, triangles)
  }
  // Where three sectors or more meet, the ball's own skin.
  const done = new Uint8Array(p.length / 3)
  for (let h = 0; h < 3 * n; h++) {
    const v = k[h]
    if (done[v]) continue
    done[v] = 1
    const loop: number[] = []
    let different = 0
    for (let g = h; ;) {
      const next = twin[prevIn(g)]
      if (sector[next] !== sector[g]) {
        different++
        loop.push(...arc(v, sector[g], sector[next]).slice(0, -1))
      }
      g = next
      if (g === h) break
    }
    if (different > 2) cap(v, loop)
  }

  /** Draws corners of triangles that came out the wrong way round towards their neighbours, within their planes. */
  function slide(): void {
    const corner = (h: number): Vec3 => add(vertex(mesh, k[h]), scale(ways[sector[h]], by))
    let active = new Set<number>()
    for (let round = 0; round < slides; round++) {
      checkStop(work)
      let wrong = 0
      const next = new Set<number>(active)
      for (let t = 0; t < n; t++) {
        const a = corner(3 * t)
        if (dot(cross(sub(corner(3 * t + 1), a), sub(corner(3 * t + 2), a)), normals[t]) > 0) continue
        wrong++
        for (let h = 3 * t; h < 3 * t + 3; h++) next.add(sector[h])
      }
      if (!wrong) return
      // Their neighbours make room.
      if (round % 4 === 0)
        for (const s of [...next]) for (const g of members[s]) next.add(sector[nextIn(g)]).add(sector[prevIn(g)])
      active = next
      for (const s of active) {
        if (!free[s].length) continue
        let to: Vec3 = [0, 0, 0],
          weight = 0
        const at = vertex(mesh, k[members[s][0]])
        for (const g of members[s])
          for (const h of [nextIn(g), prevIn(g)]) {
            const w = 1 / (length(sub(vertex(mesh, k[h]), at)) + 1e-12)
            to = add(to, scale(ways[sector[h]], w))
            weight += w
          }
        const off = sub(scale(to, 1 / weight), ways[s])
        for (const f of free[s]) ways[s] = add(ways[s], scale(f, dot(f, off)))
      }
    }
  }

  function cap(v: number, loop: number[]): void {
    if (loop.length === 3) {
      triangles.push(loop[0], loop[1], loop[2])
      return
    }
    const ring = loop.map((i) => wayAt.get(i)!)
    let middle: Vec3 = [0, 0, 0]
    for (const w of ring) middle = add(middle, normalize(w))
    if (length(middle) < 1e-3 * ring.length) {
      for (let i = 1; i + 1 < loop.length; i++) triangles.push(loop[0], loop[i], loop[i + 1])
      return
    }
    middle = scale(normalize(middle), ring.reduce((s, w) => s + length(w), 0) / ring.length)
    const open = Math.max(...ring.map((w) => Math.acos(Math.min(1, dot(normalize(w), normalize(middle))))))
    const rings = Math.max(1, Math.round(degrees(open) / stepOf))
    let outer = [...loop, loop[0]]
    for (let j = 1; j < rings; j++) {
      const count = Math.max(3, Math.round(loop.length * (1 - j / rings)))
      const inner: number[] = []
      for (let i = 0; i < count; i++) {
        const at = (i / count) * ring.length
        const from = Math.floor(at)
        const on = between(ring[from], ring[(from + 1) % ring.length], at - from)
        inner.push(put(v, between(on, middle, j / rings)))
      }
      inner.push(inner[0])
      zip(outer, inner, triangles)
      outer = inner
    }
    const tip = put(v, middle)
    for (let i = 0; i + 1 < outer.length; i++) triangles.push(outer[i], outer[i + 1], tip)
  }
  return {
    mesh: { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) },
    miss: miss * Math.abs(by),
  }
}

/** Planes that turn by less than this are one, degrees. */
const onePlane = { exact: 0.02, loose: 7 }

/**
 * Moved corners change the shape of a flat face, and its triangles with it: where one came out the wrong way round, the diagonal it shares
 * with a neighbour in the same plane is turned, if both are right after that.
 */
function turnDiagonals(
  triangles: number[],
  twin: Int32Array,
  positions: readonly number[],
  normals: readonly Vec3[],
  least: number,
): void {
  const at = (v: number): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]]
  const right = (a: number, b: number, c: number, n: Vec3) => {
    const u = sub(at(b), at(a)),
      v = sub(at(c), at(a))
    return dot(cross(u, v), n) > 1e-9 * (dot(u, u) + dot(v, v))
  }
  const wrong = (t: number) => !right(triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2], normals[t])
  const queue: number[] = []
  for (let t = 0; t < normals.length; t++) if (wrong(t)) queue.push(t)
  const link = (h: number, g: number) => {
    twin[h] = g
    if (g >= 0) twin[g] = h
  }
  for (let turns = 0; queue.length && turns < 20 * normals.length; turns++) {
    const t = queue.pop()!
    if (!wrong(t)) continue
    const n = normals[t]
    for (const h of [3 * t, 3 * t + 1, 3 * t + 2]) {
      const g = twin[h]
      if (g < 0 || dot(n, normals[triangleOf(g)]) < least) continue
      const a = triangles[h],
        b = triangles[nextIn(h)],
        c = triangles[prevIn(h)],
        d = triangles[prevIn(g)]
      // A parted edge has other numbers on its other side.
      if (triangles[g] !== b || triangles[nextIn(g)] !== a || c === d) continue
      if (!right(a, d, c, n) || !right(d, b, c, n)) continue
      const [bc, ca, ad, db] = [twin[nextIn(h)], twin[prevIn(h)], twin[nextIn(g)], twin[prevIn(g)]]
      const u = triangleOf(g)
      triangles.splice(3 * t, 3, a, d, c)
      triangles.splice(3 * u, 3, d, b, c)
      link(3 * t, ad)
      link(3 * t + 1, 3 * u + 2)
      link(3 * t + 2, ca)
      link(3 * u, db)
      link(3 * u + 1, bc)
      break
    }
  }
}

/** Triangles between two rows of numbers from end to end, the second on the right of the first. */
function zip(one: readonly number[], other: readonly number[], out: number[]): void {
  let i = 0,
    j = 0
  while (i + 1 < one.length || j + 1 < other.length) {
    const a = (i + 1) / (one.length - 1 || 1),
      b = (j + 1) / (other.length - 1 || 1)
    if (j + 1 >= other.length || (i + 1 < one.length && a <= b)) {
      out.push(one[i], one[i + 1], other[j])
      i++
    } else {
      out.push(one[i], other[j + 1], other[j])
      j++
    }
  }
}
