/**
 * Quads made more regular without a hole coming into the skin: doublets go, quads are closed over a diagonal, edges are turned, wherever the
 * sum of the squares by which valences miss four falls (Daniels, Silva, Shepherd & Cohen 2008; Tarini et al. 2010).
 */
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { PolygonEdit } from '@/core/mesh/polygon-edit'
import { nextInQuad, type QuadMesh } from '@/core/mesh/quad-mesh'

class Quads extends PolygonEdit {
  private readonly rim: Uint8Array

  constructor(
    net: QuadMesh,
    readonly lines: Set<number>,
    readonly stays: Uint8Array,
    private readonly wanted: Uint8Array | null,
  ) {
    super(net.positions, [])
    for (let q = 0; q < net.quads.length; q += 4) this.addFace(Array.from(net.quads.subarray(q, q + 4)))
    const faces = new Map<number, number>()
    for (let h = 0; h < net.quads.length; h++) {
      const key = edgeKey(net.quads[h], net.quads[nextInQuad(h)])
      faces.set(key, (faces.get(key) ?? 0) + 1)
    }
    this.rim = new Uint8Array(this.pointCount)
    for (const [key, n] of faces) if (n === 1) for (const v of endsOfKey(key)) this.rim[v] = 1
  }

  /** Edges at a vertex, and whether it is at a rim; rims never change here. */
  edgesAt(v: number): { count: number; rim: boolean } {
    const rim = this.rim[v] === 1
    return { count: this.around[v].length + (rim ? 1 : 0), rim }
  }
  /** Edges that a vertex is to have: of its quads, one for each right angle. */
  ideal(v: number): number {
    return (this.wanted ? this.wanted[v] : 4 - 2 * this.rim[v]) + this.rim[v]
  }
  /** By how much a valence of so many more than now misses what is regular, squared. */
  cost(v: number, more: number): number {
    const { count, rim } = this.edgesAt(v)
    const n = count + more
    return n < 2 || (n < 3 && !rim) ? 100 : (n - this.ideal(v)) ** 2
  }
  onLine(v: number): boolean {
    for (const f of this.around[v]) {
      const loop = this.loop(f)
      const i = loop.indexOf(v)
      if (this.lines.has(edgeKey(v, loop[(i + 1) % 4])) || this.lines.has(edgeKey(v, loop[(i + 3) % 4]))) return true
    }
    return false
  }
  /** Whether the faces round a vertex still go round once, each edge between two of them. */
  sound(v: number): boolean {
    const next = new Map<number, number>()
    const ends = new Map<number, number>()
    for (const f of this.around[v]) {
      const loop = this.loop(f)
      if (new Set(loop).size < 4) return false
      const i = loop.indexOf(v)
      const from = loop[(i + 1) % 4]
      if (next.has(from)) return false
      next.set(from, loop[(i + 3) % 4])
      for (const u of [from, loop[(i + 3) % 4]]) ends.set(u, (ends.get(u) ?? 0) + 1)
    }
    if (!next.size) return true
    const open = [...ends].filter(([, n]) => n === 1).map(([u]) => u)
    if ([...ends.values()].some((n) => n > 2) || (open.length !== 0 && open.length !== 2)) return false
    const first = open.length ? open.find((u) => next.has(u)) : next.keys().next().value
    if (first === undefined) return false
    let at: number | undefined = first
    let steps = 0
    do {
      at = next.get(at)
      steps++
    } while (at !== undefined && at !== first && next.has(at) && steps <= next.size)
    return steps === next.size
  }
}

/** Quad between a vertex of two edges and the one across: the two quads at it become one. */
function dropDoublets(m: Quads): number {
  let done = 0
  for (let v = 0; v < m.pointCount; v++) {
    if (m.around[v].length !== 2 || m.stays[v]) continue
    const [f, g] = m.around[v]
    const [a, b] = [m.loop(f), m.loop(g)]
    const [i, j] = [a.indexOf(v), b.indexOf(v)]
    // Both quads share both edges at v.
    if (a[(i + 1) % 4] !== b[(j + 3) % 4] || a[(i + 3) % 4] !== b[(j + 1) % 4]) continue
    if (m.lines.has(edgeKey(v, a[(i + 1) % 4])) || m.lines.has(edgeKey(v, a[(i + 3) % 4]))) continue
    const loop = [...a]
    loop[i] = b[(j + 2) % 4]
    if (new Set(loop).size < 4) continue
    m.kill(f)
    m.kill(g)
    m.put(f, loop)
    done++
  }
  return done
}

/** Which of the corners a and c of a quad a b c d is to stay when they become one, and whether it goes to their middle; null: they may not. */
function closing(m: Quads, a: number, b: number, c: number, d: number) {
  if (m.stays[a] && m.stays[c]) return null
  const [ea, ec] = [m.edgesAt(a), m.edgesAt(c)]
  if (ea.rim && ec.rim) return null
  const [la, lc] = [m.onLine(a), m.onLine(c)]
  if (la && lc) return null
  if (m.edgesAt(b).rim || m.edgesAt(d).rim) return null
  const merged = ea.count + ec.count - 2
  const before = m.cost(a, 0) + m.cost(c, 0) + m.cost(b, 0) + m.cost(d, 0)
  const ideal = m.ideal(m.stays[a] || la || ea.rim ? a : c)
  const after = (merged - ideal) ** 2 + m.cost(b, -1) + m.cost(d, -1)
  if (after >= before) return null
  // They may have nothing in common but b and d.
  const na = m.neighbours(a)
  const shared = [...m.neighbours(c)].filter((u) => na.has(u) && u !== a && u !== c)
  if (shared.some((u) => u !== b && u !== d)) return null
  if ([...m.around[a]].filter((g) => m.has(g, c)).length !== 1) return null
  const [keep, go] = m.stays[a] || la || ea.rim ? [a, c] : [c, a]
  if (m.stays[go] || (go === a ? la : lc)) return null
  const middle = !(m.stays[keep] || (keep === a ? la || ea.rim : lc || ec.rim))
  return { keep, go, middle }
}

/** A quad closed over the diagonal from its corner s, where that makes fewer irregular points: both ends become one, the others lose an edge. */
function closeDiagonal(m: Quads, f: number, s: number): boolean {
  const loop = m.loop(f)
  const [a, b, c, d] = [loop[s], loop[s + 1], loop[s + 2], loop[(s + 3) % 4]]
  const what = closing(m, a, b, c, d)
  if (!what) return false
  const { keep, go, middle } = what
  m.kill(f)
  const moved = [...m.around[go]]
  for (const g of moved) m.swap(g, go, keep)
  m.around[go].length = 0
  if (middle) for (let k = 0; k < 3; k++) m.points[3 * keep + k] = (m.points[3 * keep + k] + m.points[3 * go + k]) / 2
  if (![keep, b, d].every((v) => m.sound(v))) {
    // Back: what was not sound is undone.
    for (const g of moved) {
      const list = m.around[keep]
      list.splice(list.indexOf(g), 1)
      m.swap(g, keep, go)
    }
    m.put(f, loop)
    return false
  }
  return true
}

/** Quads closed over a diagonal: two opposite corners become one; gives how many. */
function closeDiagonals(m: Quads): number {
  let done = 0
  for (let f = 0; f < m.faceCount; f++) {
    if (!m.alive(f)) continue
    if ([0, 1].some((s) => closeDiagonal(m, f, s))) done++
  }
  return done
}
/** An edge between two quads that could be turned: the quads, and the six corners round both, from one of its ends. */
interface Turnable {
  readonly f: number
  readonly g: number
  readonly six: readonly number[]
}

/** The edge from corner c of quad f, unless it stays. */
function turnable(m: Quads, f: number, c: number): Turnable | null {
  const w = m.twin(m.startOf(f) + c)
  if (w < 0) return null
  const g = m.faceAt(w)
  const a = m.loop(f)
  const b = m.loop(g)
  const [p, q] = [a[c], a[(c + 1) % 4]]
  if (m.lines.has(edgeKey(p, q))) return null
  const j = b.indexOf(q)
  // Corners round both: p ... q of f, then q ... p of g.
  const six = [q, a[(c + 2) % 4], a[(c + 3) % 4], p, b[(j + 2) % 4], b[(j + 3) % 4]]
  return new Set(six).size < 6 ? null : { f, g, six }
}

/** By how much valences miss less after the edge is turned by so many corners of the six; 0 to 3 stay as they are. */
function turnCost(m: Quads, { f, g, six }: Turnable, turn: number): number {
  const [q, p, x, y] = [six[0], six[3], six[turn], six[turn + 3]]
  if (m.around[x].some((h) => h !== f && h !== g && m.has(h, y))) return Infinity
  const now = m.cost(q, 0) + m.cost(p, 0) + m.cost(x, 0) + m.cost(y, 0)
  return m.cost(q, -1) + m.cost(p, -1) + m.cost(x, 1) + m.cost(y, 1) - now
}

const quadsOf = (six: readonly number[], from: number) => {
  const at = (i: number) => six[(from + i) % 6]
  return [
    [at(0), at(1), at(2), at(3)],
    [at(3), at(4), at(5), at(0)],
  ]
}

/** Turns it; gives false, with nothing changed, where that is not sound. */
function turn(m: Quads, { f, g, six }: Turnable, by: number): boolean {
  const [a, b] = [m.loop(f), m.loop(g)]
  const [c, d] = quadsOf(six, by)
  m.kill(f)
  m.kill(g)
  m.put(f, c)
  m.put(g, d)
  if (six.every((v) => m.sound(v))) return true
  m.kill(f)
  m.kill(g)
  m.put(f, a)
  m.put(g, b)
  return false
}

/** Edges turned to the next pair of corners of the six round them. */
function turnEdges(m: Quads): number {
  let done = 0
  for (let f = 0; f < m.faceCount; f++)
    for (let c = 0; c < 4 && m.alive(f); c++) {
      const edge = turnable(m, f, c)
      if (!edge || edge.g < f) continue
      const [one, two] = [turnCost(m, edge, 1), turnCost(m, edge, 2)]
      const best = two < one ? 2 : 1
      if (Math.min(one, two) < -0.5 && turn(m, edge, best)) done++
    }
  return done
}

/** Irregular pairs are walked so many turns at most, so many are tried from one place, and so many in all. */
const mostSteps = 5
const mostTurns = 300
const mostInAll = 20_000

/**
 * A vertex of three beside one of five is a step in the rows of quads. By turns that cost nothing it walks over the net until it meets
 * another, or an irregular point that takes it up: what costs less then is kept, all else undone.
 */
function walkSteps(m: Quads): number {
  let done = 0
  let inAll = mostInAll
  const irregular = (v: number) => m.around[v].length > 0 && m.cost(v, 0) > 0
  for (let v = 0; v < m.pointCount; v++) {
    if (!irregular(v)) continue
    let left = Math.min(mostTurns, inAll)
    inAll -= left
    const walk = (at: number, steps: number, last: string): boolean => {
      for (const f of [...m.around[at]])
        for (let c = 0; c < 4; c++) {
          if (!m.has(f, at)) continue
          const edge = turnable(m, f, c)
          if (!edge) continue
          for (const by of [1, 2]) {
            const cost = turnCost(m, edge, by)
            const key = [edge.six[by], edge.six[by + 3]].sort((a, b) => a - b).join()
            if (cost > 0.5 || key === last || left <= 0) continue
            const was = [m.loop(edge.f), m.loop(edge.g)]
            if (!turn(m, edge, by)) continue
            left--
            if (cost < -0.5) return true
            const ends = [edge.six[0], edge.six[3]].sort((a, b) => a - b).join()
            if (steps > 1)
              for (const next of [edge.six[0], edge.six[3], edge.six[by], edge.six[by + 3]])
                if (irregular(next) && walk(next, steps - 1, ends)) return true
            m.kill(edge.f)
            m.kill(edge.g)
            m.put(edge.f, was[0])
            m.put(edge.g, was[1])
          }
        }
      return false
    }
    if (walk(v, mostSteps, '')) done++
    inAll += left
  }
  return done
}

export interface TidyChoice {
  /** Irregular pairs are led to each other too: slower. */
  readonly walk?: boolean
  /** Quads that each vertex is to have; null: four, at a rim two. */
  readonly wanted?: Uint8Array | null
}

/**
 * @param lines edges that stay, by their vertices
 * @param stays 1 for vertices that stay
 * @returns the net, with where each of its vertices came from
 */
export function tidyQuads(
  net: QuadMesh,
  lines: ReadonlySet<number>,
  stays: Uint8Array,
  { walk = false, wanted = null }: TidyChoice = {},
): { net: QuadMesh; from: Uint32Array } {
  const m = new Quads(net, new Set(lines), stays, wanted)
  for (let round = 0; round < 12; round++) {
    const changes = dropDoublets(m) + closeDiagonals(m) + dropDoublets(m) + turnEdges(m)
    if (!changes && !(walk && walkSteps(m))) break
  }
  const number = new Int32Array(m.pointCount).fill(-1)
  const from: number[] = []
  const quads: number[] = []
  for (let f = 0; f < m.faceCount; f++) {
    if (!m.alive(f)) continue
    for (const v of m.loop(f)) {
      if (number[v] < 0) {
        number[v] = from.length
        from.push(v)
      }
      quads.push(number[v])
    }
  }
  const positions = new Float32Array(3 * from.length)
  from.forEach((v, i) => {
    for (let k = 0; k < 3; k++) positions[3 * i + k] = m.points[3 * v + k]
  })
  return { net: { positions, quads: Uint32Array.from(quads) }, from: Uint32Array.from(from) }
}
