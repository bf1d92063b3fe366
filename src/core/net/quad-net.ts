/**
 * A mesh turned into a net of quads: an even working mesh, a field of crosses, a map with whole numbers over its cuts (Bommes, Zimmer &
 * Kobbelt 2009), the lattice taken out by collapse, triangles paired, valences tidied, quads evened on the skin.
 */
import { StepError } from '@/core/base/step-error'
import { hashBytes } from '@/core/base/hash'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { refine } from '@/core/mend/refine'
import { NearestInGrid } from '@/core/mesh/nearest'
import { quadCount, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { buildTopology, findPieces, nextIn, type Topology } from '@/core/mesh/topology'
import { meshArea } from '@/core/mesh/measures'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { CreaseLines, creaseFlags, creaseVertices, longCreases } from './crease-lines'
import { cornerQuads } from './corner-quads'
import { crossField } from './cross-field'
import { cutOpen } from './cut/cut'
import { extractLattice } from './extract'
import { guideOn, layGuides, type Guide } from './guides'
import { mapSolver, type CornerPlaces, type MapSolver } from './integer-map'
import { pairToQuads } from './pair'
import { Ground, relaxQuads } from './relax-quads'
import { tidyQuads } from './tidy-quads'

export interface NetChoice {
  /** Quads wanted. */
  readonly count: number
  /** 0 to 1: how much smaller quads are where the skin bends. */
  readonly adaptive: number
  /** Edges that bend by more are followed, degrees; null: only rims are. */
  readonly hardAngle: number | null
  /** Quads become smaller where the skin would lie far off them. */
  readonly detail?: boolean
  /** Vertices of the working mesh. */
  readonly working?: number
  /** Curves near the skin that become lines of the net, or only steer it. */
  readonly guides?: readonly Guide[]
  readonly guidesAs?: 'loops' | 'flow'
  /** A look is enough: about the count, less even. */
  readonly rough?: boolean
}

export interface Net {
  readonly net: QuadMesh
  /** Specks that got no quads. */
  readonly leftOut: number
  /** Numbers of the guides that lie on no piece. */
  readonly missed: readonly number[]
}

/** What does not depend on the count, kept for the next one. */
interface Prepared {
  readonly mesh: TriMesh
  readonly topology: Topology
  readonly creases: Uint8Array
  readonly kinds: Uint8Array
  readonly edges: Set<number>
  /** How strongly the skin bends at each triangle, 1/mm. */
  readonly bend: Float64Array
  readonly solver: MapSolver
  readonly area: number
}

/** Vertices of a working mesh, by the quads that are wanted: few sizes, so that other counts may share one. */
const workingFor = (count: number) => {
  if (40 * count < leastWorking) return 40 * count
  const doubled = Math.ceil(Math.log2(Math.max(1, (2.5 * count) / leastWorking)))
  return Math.min(20_000, leastWorking * 2 ** doubled)
}
const leastWorking = 2500
/** Creases shorter than so many quads are noise, unless they join others. */
const leastCrease = 3
/** How much ways of bending count beside smoothness. */
const bendCounts = 0.05
/** Counts within this share of what was wanted will do. */
const countWithin = 0.04
const mostTries = 3
/** Maps are solved until their area is within this share of the quads wanted. */
const areaWithin = 0.02
const mostSolves = 4
const relaxRounds = 15
const roughRounds = 5
/** Rounds in which the working mesh is made even. */
const refineRounds = 4
const roughRefine = 2
/** Fewer quads make no net. */
const fewest = 6

/** A working mesh, and what was made of it last. */
interface Working {
  readonly key: string
  readonly even: TriMesh
  readonly topology: Topology
  /** Half-edges that bend by more than the hard angle, and rims. */
  readonly bent: Uint8Array
  last: { readonly hard: Uint8Array; readonly prepared: Prepared } | null
}

/** The latest ones: another count for the same mesh is a matter of two solves. What comes out is the same with and without. */
const known: Working[] = []
const mostKept = 2
/** Forgets what is kept for another count. */
export const forgetWorking = (): void => void (known.length = 0)

function workingMesh(
  piece: TriMesh,
  key: string,
  { edge, hardAngle, rounds }: { edge: number; hardAngle: number | null; rounds: number },
  work: Work,
): Working {
  const at = known.findIndex((w) => w.key === key)
  if (at >= 0) {
    const [own] = known.splice(at, 1)
    known.unshift(own)
    return own
  }
  work.progress(0, 'working mesh')
  const even = refine(piece, { edge, keepEdges: hardAngle ?? 179, within: 10 * edge, rounds }, work)
  const topology = buildTopology(even)
  // Walks round a vertex have no end where neighbours do not face one way.
  if (topology.nonManifoldEdges || topology.sameWay.some((w) => w === 1))
    throw new StepError('not-manifold', 'The mesh does not face one way all over, as a strip with a twist does not.', {
      tryThis: 'Mend it first: Face outward, Mend all, or Reskin.',
    })
  const made: Working = { key, even, topology, bent: creaseFlags(even, topology, hardAngle), last: null }
  known.unshift(made)
  known.length = Math.min(known.length, mostKept)
  return made
}

function prepare(piece: TriMesh, key: string, choice: NetChoice & { working: number }, work: Work): Prepared {
  const { hardAngle, count, guides = [], guidesAs = 'loops' } = choice
  const area = meshArea(piece)
  const edge = Math.sqrt(area / choice.working / (Math.sqrt(3) / 2))
  const rounds = choice.rough ? roughRefine : refineRounds
  const own = workingMesh(piece, key, { edge, hardAngle, rounds }, work)
  const { even, topology, bent } = own
  const hard = longCreases(even, topology, bent, leastCrease * Math.sqrt(area / count))
  if (!guides.length && own.last && hard.every((f, h) => f === own.last!.hard[h])) return own.last.prepared
  const { mesh, flags } = layGuides(even, topology, guides, hard, edge)
  const lines = hard.map((h, i) => h | flags[i])
  const creases = guidesAs === 'loops' ? lines : hard
  checkStop(work)
  work.progress(0.3, 'cross field')
  const field = crossField(mesh, topology, { creases: lines, bend: bendCounts })
  checkStop(work)
  work.progress(0.45, 'map')
  const cut = cutOpen(mesh, topology, field)
  const solver = mapSolver(mesh, field.frames, cut, creases)
  const edges = new Set<number>()
  for (let h = 0; h < creases.length; h++)
    if (creases[h]) edges.add(edgeKey(mesh.triangles[h], mesh.triangles[nextIn(h)]))
  const prepared: Prepared = {
    mesh,
    topology,
    creases,
    kinds: creaseVertices(mesh, topology, creases),
    edges,
    bend: field.bend,
    solver,
    area,
  }
  if (!guides.length) own.last = { hard, prepared }
  return prepared
}

/** Edge of the quads at each triangle, so that about `count` of them cover the skin. */
function sizes(
  { mesh, bend, area, topology }: Prepared,
  count: number,
  adaptive: number,
  smaller: Float64Array,
): Float64Array {
  const n = triangleCount(mesh)
  const even = Math.sqrt(area / count)
  const out = new Float64Array(n).fill(even)
  if (!(adaptive > 0) && smaller.every((s) => s === 1)) return out
  const sorted = bend.slice().sort()
  const median = Math.max(sorted[n >> 1], 1e-9 / even)
  const most = 3 ** adaptive
  let log = Float64Array.from(bend, (b, t) => {
    const own = -0.75 * adaptive * Math.log(Math.max(b, 0.05 * median) / median)
    return Math.max(-Math.log(most), Math.min(Math.log(most), own)) + Math.log(smaller[t])
  })
  for (let round = 0; round < 25; round++) {
    const next = log.slice()
    for (let t = 0; t < n; t++) {
      let [sum, c] = [log[t], 1]
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        if (topology.twin[h] < 0) continue
        sum += log[(topology.twin[h] / 3) | 0]
        c++
      }
      next[t] = sum / c
    }
    log = next
  }
  let quads = 0
  for (let t = 0; t < n; t++) {
    out[t] = even * Math.exp(log[t])
    quads += triangleArea(mesh, t) / (out[t] * out[t])
  }
  const scale = Math.sqrt(quads / count)
  return out.map((s) => s * scale)
}

/** The area that a map covers: about as many quads come out of it. */
function areaOf(places: CornerPlaces): number {
  let sum = 0
  for (let h = 0; h < places.length; h += 6) {
    const [x, y] = [places[h + 2] - places[h], places[h + 3] - places[h + 1]]
    sum += Math.abs(x * (places[h + 5] - places[h + 1]) - y * (places[h + 4] - places[h])) / 2
  }
  return sum
}

/** The map whose area is nearest to a count of quads; solving is cheap beside taking the quads out. */
function mapOfArea(solver: MapSolver, sizeOf: SizeOf, wanted: number, work: Work): CornerPlaces {
  let asked = wanted
  let [low, high] = [0, Infinity]
  let best: { places: CornerPlaces; off: number } | null = null
  for (let tries = 0; tries < mostSolves; tries++) {
    const places = solver.solve(sizeOf(asked), work)
    const area = Math.max(areaOf(places), 1)
    const off = Math.abs(Math.log(area / wanted))
    if (!best || off < best.off) best = { places, off }
    if (off <= areaWithin) break
    if (area < wanted) low = Math.max(low, asked)
    else high = Math.min(high, asked)
    const next = (asked * wanted) / area
    // Whole numbers make steps: between two that were tried lies what is wanted.
    asked = Math.max(fewest, next > low && next < high ? next : Math.sqrt(Math.max(low, 1) * Math.min(high, 2 * low)))
  }
  return best!.places
}

/** Quads for sizes that are wanted, tried until there are about as many as asked for. */
function countedNet(
  prepared: Prepared,
  sizeOf: SizeOf,
  { count, rough }: { count: number; rough: boolean },
  work: Work,
): Tidied {
  const { mesh, kinds, edges, solver } = prepared
  const corners = kinds.map((k) => (k === 2 ? 1 : 0))
  let asked = count
  let best: (Tidied & { walked: () => Tidied; off: number }) | null = null
  for (let tries = 0; tries < (rough ? 1 : mostTries); tries++) {
    checkStop(work)
    const places = mapOfArea(solver, sizeOf, asked, work)
    const lattice = extractLattice(mesh, places, edges, corners, work)
    const paired = pairToQuads(lattice)
    const ends = new Uint8Array(paired.net.positions.length / 3)
    for (const key of lattice.creases) for (const v of endsOfKey(key)) ends[v]++
    const stays = ends.map((e) => (e !== 0 && e !== 2 ? 1 : 0))
    const wanted = cornerQuads(lattice.mesh, lattice.creases)
    const tidy = (walk: boolean) => {
      const { net, from } = tidyQuads(paired.net, lattice.creases, stays, { walk, wanted })
      return { net, kind: Uint8Array.from(from, (v) => (stays[v] ? 2 : ends[v] ? 1 : 0)) }
    }
    const plain = tidy(false)
    const made = quadCount(plain.net)
    const off = Math.abs(Math.log(Math.max(made, 1) / count))
    if (made && (!best || off < best.off)) best = { ...plain, walked: () => tidy(true), off }
    if (off <= countWithin) break
    asked = Math.max(fewest, Math.round((asked * count) / Math.max(made, 1)))
  }
  if (!best) throw new StepError('no-net', 'No quads came out of the mesh.', { tryThis: 'Ask for more quads.' })
  if (rough) return best
  // Pairs that went took quads with them: not if that leaves the count.
  const walked = best.walked()
  const off = Math.abs(Math.log(quadCount(walked.net) / count))
  return off <= Math.max(best.off, 2 * countWithin) ? walked : best
}

/** Edge of the quads at each triangle when so many are asked for. */
type SizeOf = (asked: number) => Float64Array

interface Tidied {
  readonly net: QuadMesh
  /** 1 for vertices on lines, 2 for those that stay. */
  readonly kind: Uint8Array
}

/** Rounds in which quads are made smaller where the skin lies off them, and by how much; a little of the quad's edge may be between. */
const guardRounds = 3
const guardSmaller = 0.65
const guardWithin = 0.45

/** Distance of the working mesh's triangles from a net, mm. */
function distances({ mesh }: Prepared, net: QuadMesh): Float64Array {
  const to = new NearestInGrid(trianglesOfQuads(net))
  const p = mesh.positions
  const off = new Float64Array(p.length / 3)
  for (let v = 0; v < off.length; v++) off[v] = Math.sqrt(to.square(p[3 * v], p[3 * v + 1], p[3 * v + 2]))
  return Float64Array.from({ length: triangleCount(mesh) }, (_, t) =>
    Math.max(...[0, 1, 2].map((c) => off[mesh.triangles[3 * t + c]])),
  )
}

/** Quads of one piece that hangs together. */
function netOfPiece(
  piece: TriMesh,
  key: string,
  ground: Ground,
  lines: CreaseLines,
  choice: NetChoice & { working: number },
  work: Work,
): QuadMesh {
  const prepared = prepare(piece, key, choice, work)
  const smaller = new Float64Array(triangleCount(prepared.mesh)).fill(1)
  const sizeOf = (asked: number) => sizes(prepared, asked, choice.adaptive, smaller)
  const rounds = choice.rough ? roughRounds : relaxRounds
  const rough = choice.rough === true
  const asked = { count: choice.count, rough }
  const relaxed = (from: Tidied) => relaxQuads(from.net, ground, { rounds, kind: from.kind, lines }, work)
  work.progress(0.6, 'quads')
  let net = relaxed(countedNet(prepared, sizeOf, asked, work))
  let far = distances(prepared, net)
  let least = greatest(far)
  for (let round = 0; choice.detail && round < guardRounds; round++) {
    work.progress(0.75 + 0.08 * round, 'detail')
    const now = sizeOf(choice.count)
    let out = 0
    far.forEach((d, t) => {
      if (d <= guardWithin * now[t]) return
      smaller[t] *= guardSmaller
      out++
    })
    if (!out) break
    const better = relaxed(countedNet(prepared, sizeOf, asked, work))
    far = distances(prepared, better)
    if (greatest(far) >= least) continue
    net = better
    least = greatest(far)
  }
  return net
}

const greatest = (list: Float64Array) => list.reduce((a, b) => Math.max(a, b), 0)

/** Meshes of so many more triangles than the working mesh has vertices are brought down to fewer before all else. */
const manyMore = 5
const mostTriangles = 150_000
const broughtTo = 4
const leastBrought = 60_000
/** Share of the size that this may move the skin by. */
const broughtWithin = 5e-4

/**
 * The net of a mesh: every piece by itself, its share of the quads by its area.
 * @throws StepError `empty`, `not-manifold`, `no-net`
 */
export async function quadNet(input: TriMesh, choice: NetChoice, work: Work = quiet): Promise<Net> {
  if (!triangleCount(input)) throw new StepError('empty', 'The mesh holds no triangles.')
  const topology = buildTopology(input)
  const { piece, count } = findPieces(input, topology)
  const whole = meshArea(input)
  const nets: QuadMesh[] = []
  const areas = new Float64Array(count)
  piece.forEach((p, t) => (areas[p] += triangleArea(input, t)))
  const largest = areas.reduce((a, b) => Math.max(a, b), 0)
  let leftOut = 0
  const met = new Set<number>()
  for (let i = 0; i < count; i++) {
    const area = areas[i]
    if (choice.count * area < leastQuads * whole && area < leastPiece * largest) {
      leftOut++
      continue
    }
    const part =
      count === 1
        ? input
        : keepTriangles(
            input,
            Uint8Array.from(piece, (p) => (p === i ? 1 : 0)),
          ).mesh
    const wanted = Math.max(fewest, Math.round((choice.count * area) / whole))
    let few = part
    const vertices = choice.working ?? workingFor(wanted)
    // Creases would come out wavy: they wait for what is large by any measure.
    if (triangleCount(part) > (choice.hardAngle === null ? manyMore * vertices : mostTriangles)) {
      work.progress(0, 'bringing down')
      const least = Math.max(broughtTo * vertices, choice.hardAngle === null ? 0 : leastBrought)
      few = await broughtDown(part, least)
    }
    const t = buildTopology(few)
    const h = Math.sqrt(area / wanted)
    const flags = longCreases(few, t, creaseFlags(few, t, choice.hardAngle), leastCrease * h)
    const lines = new CreaseLines(few, t, flags, h)
    const own = guidesOn(few, choice.guides ?? [], h, met)
    if (choice.guidesAs !== 'flow')
      for (const { places, closed } of own)
        for (let k = closed ? 0 : 1; k < places.length; k++) lines.add(places[(k || places.length) - 1], places[k])
    const key = [await contentOf(few), vertices, choice.hardAngle, choice.rough].join(' ')
    const asked = { ...choice, count: wanted, working: vertices, guides: own }
    nets.push(netOfPiece(few, key, new Ground(part), lines, asked, span(work, i / count, (i + 1) / count)))
  }
  const missed = (choice.guides ?? []).flatMap((_, i) => (met.has(i) ? [] : [i]))
  return { net: joined(nets), leftOut, missed }
}

/** The content of a mesh, in short. */
async function contentOf({ positions, triangles }: TriMesh): Promise<string> {
  const bytes = (a: Float32Array | Float64Array | Uint32Array) => new Uint8Array(a.buffer, a.byteOffset, a.byteLength)
  return `${await hashBytes(bytes(positions))} ${await hashBytes(bytes(triangles))}`
}

/** Guides are taken for the skin's within so many quads' edges, or this share of the size; their places are so many to an edge. */
const guideReach = 0.5
const guideShare = 5e-3
const guidePlaces = 8

/** The guides that lie on a piece. @param met their numbers are put here */
function guidesOn(piece: TriMesh, guides: readonly Guide[], h: number, met: Set<number>): Guide[] {
  if (!guides.length) return []
  const skin = new NearestInGrid(piece)
  const reach = Math.max(guideReach * h, guideShare * diagonal(meshBounds(piece)))
  return guides.flatMap((g, i) => {
    const own = guideOn(g, skin, h / guidePlaces, reach)
    if (own.length) met.add(i)
    return own
  })
}

/**
 * A mesh of one piece with about so many triangles. Collapses of the finest scans leave pairs of triangles that lie back to back on edges of
 * four: these come apart and go; where that does not mend it there are more triangles, at the end all.
 */
async function broughtDown(part: TriMesh, least: number): Promise<TriMesh> {
  const error = diagonal(meshBounds(part)) * broughtWithin
  const { openEdges } = buildTopology(part)
  const bad = (t: Topology) => t.nonManifoldEdges > 0 || t.sameWay.some((w) => w === 1)
  for (let triangles = least; triangles < triangleCount(part); triangles *= 3) {
    const { mesh } = await simplifyQuadric(part, { triangles, error, lockRims: true })
    if (!bad(buildTopology(mesh))) return mesh
    const apart = splitNonManifold(mesh).mesh
    const { piece, count } = findPieces(apart, buildTopology(apart))
    const sizes = new Uint32Array(count)
    for (const p of piece) sizes[p]++
    const largest = sizes.indexOf(sizes.reduce((a, b) => Math.max(a, b), 0))
    const one = keepTriangles(
      apart,
      Uint8Array.from(piece, (p) => (p === largest ? 1 : 0)),
    ).mesh
    const t = buildTopology(one)
    if (!bad(t) && t.openEdges === openEdges) return one
  }
  return part
}

/** Pieces whose share is less than half a quad are specks, if they are this small beside the largest too. */
const leastQuads = 0.5
const leastPiece = 0.02

function joined(nets: readonly QuadMesh[]): QuadMesh {
  if (nets.length === 1) return nets[0]
  const positions = new Float32Array(nets.reduce((s, n) => s + n.positions.length, 0))
  const quads = new Uint32Array(nets.reduce((s, n) => s + n.quads.length, 0))
  let [p, q] = [0, 0]
  for (const net of nets) {
    positions.set(net.positions, p)
    const first = p / 3
    quads.set(
      net.quads.map((v) => v + first),
      q,
    )
    p += net.positions.length
    q += net.quads.length
  }
  return { positions, quads }
}
