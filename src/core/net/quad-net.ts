/**
 * A mesh turned into a net of quads: an even working mesh, a field of crosses, a map with whole numbers over its cuts (Bommes, Zimmer &
 * Kobbelt 2009), the lattice taken out by collapse, triangles paired, valences tidied, quads evened on the skin.
 */
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { edgeKey } from '@/core/mesh/edge-key'
import { refine, trianglesFor } from '@/core/mend/refine'
import { quadCount, type QuadMesh } from '@/core/mesh/quad-mesh'
import { buildTopology, findPieces, nextIn, type Topology } from '@/core/mesh/topology'
import { keepTriangles, meshArea, triangleArea, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { CreaseLines, creaseFlags, creaseVertices } from './crease-lines'
import { bendsOf, crossField, framesOf } from './cross-field'
import { cutOpen } from './cut'
import { extractLattice } from './extract'
import { mapSolver, type MapSolver } from './integer-map'
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
  /** Vertices of the working mesh. */
  readonly working?: number
}

export interface Net {
  readonly net: QuadMesh
  /** Whole numbers that were rounded, singular points of the field, of all pieces. */
  readonly rounded: number
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

/** Vertices of a working mesh, by the quads that are wanted. */
const workingFor = (count: number) => Math.min(20_000, Math.max(5000, Math.round(2.5 * count)))
/** How much ways of bending count beside smoothness. */
const bendCounts = 0.05
/** Counts within this share of what was wanted will do. */
const countWithin = 0.04
const mostTries = 4
const relaxRounds = 15
/** Fewer quads make no net. */
const fewest = 6

function prepare(piece: TriMesh, hardAngle: number | null, working: number, work: Work): Prepared {
  const area = meshArea(piece)
  const edge = Math.sqrt(area / working / (Math.sqrt(3) / 2))
  work.progress(0, 'working mesh')
  const mesh =
    triangleCount(piece) < 0.5 * trianglesFor(area, edge) || triangleCount(piece) > 1.2 * trianglesFor(area, edge) || hardAngle !== null // prettier-ignore
      ? refine(piece, { edge, keepEdges: hardAngle ?? 179, within: 10 * edge, rounds: 4 }, work)
      : refine(piece, { edge, keepEdges: 179, within: 10 * edge, rounds: 3 }, work)
  const topology = buildTopology(mesh)
  const creases = creaseFlags(mesh, topology, hardAngle)
  checkStop(work)
  work.progress(0.3, 'cross field')
  const field = crossField(mesh, topology, { creases, bend: bendCounts })
  checkStop(work)
  work.progress(0.45, 'map')
  const cut = cutOpen(mesh, topology, field)
  const solver = mapSolver(mesh, field.frames, cut, creases)
  const edges = new Set<number>()
  for (let h = 0; h < creases.length; h++)
    if (creases[h]) edges.add(edgeKey(mesh.triangles[h], mesh.triangles[nextIn(h)]))
  const b = bendsOf(mesh, framesOf(mesh))
  return {
    mesh,
    topology,
    creases,
    kinds: creaseVertices(mesh, topology, creases),
    edges,
    bend: b.re.map((x, t) => Math.hypot(x, b.im[t]) + Math.abs(b.mean[t])),
    solver,
    area,
  }
}

/** Edge of the quads at each triangle, so that about `count` of them cover the skin. */
function sizes({ mesh, bend, area, topology }: Prepared, count: number, adaptive: number): Float64Array {
  const n = triangleCount(mesh)
  const even = Math.sqrt(area / count)
  const out = new Float64Array(n).fill(even)
  if (!(adaptive > 0)) return out
  const sorted = bend.slice().sort()
  const median = Math.max(sorted[n >> 1], 1e-9 / even)
  const most = 3 ** adaptive
  let log = Float64Array.from(bend, (b) =>
    Math.max(
      -Math.log(most),
      Math.min(Math.log(most), -0.75 * adaptive * Math.log(Math.max(b, 0.05 * median) / median)),
    ),
  )
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

/** Quads of one piece that hangs together. */
function netOfPiece(piece: TriMesh, ground: Ground, lines: CreaseLines, choice: NetChoice, work: Work): Net {
  const prepared = prepare(piece, choice.hardAngle, choice.working ?? workingFor(choice.count), work)
  const { mesh, kinds, edges, solver } = prepared
  let asked = choice.count
  let best: { net: QuadMesh; from: Uint32Array; off: number; kind: Uint8Array } | null = null
  for (let tries = 0; tries < mostTries; tries++) {
    work.progress(0.6 + 0.08 * tries, 'quads')
    const places = solver.solve(sizes(prepared, asked, choice.adaptive), work)
    const lattice = extractLattice(mesh, places, edges, kinds.map((k) => (k === 2 ? 1 : 0)), work) // prettier-ignore
    const paired = pairToQuads(lattice)
    const stays = new Uint8Array(paired.net.positions.length / 3)
    const span = 67108864
    const ends = new Uint8Array(stays.length)
    for (const key of lattice.creases) {
      ends[Math.floor(key / span)]++
      ends[key % span]++
    }
    ends.forEach((e, v) => (stays[v] = e !== 0 && e !== 2 ? 1 : 0))
    const tidy = tidyQuads(paired.net, lattice.creases, stays)
    const made = quadCount(tidy.net)
    const off = Math.abs(Math.log(Math.max(made, 1) / choice.count))
    const kind = Uint8Array.from(tidy.from, (v) => (stays[v] ? 2 : ends[v] ? 1 : 0))
    if (made && (!best || off < best.off)) best = { ...tidy, off, kind }
    if (off <= countWithin) break
    asked = Math.max(fewest, Math.round((asked * choice.count) / Math.max(made, 1)))
  }
  if (!best) throw new StepError('no-net', 'No quads came out of the mesh.', { tryThis: 'Ask for more quads.' })
  const net = relaxQuads(best.net, ground, { rounds: relaxRounds, kind: best.kind, lines }, work)
  return { net, rounded: solver.whole }
}

/**
 * The net of a mesh: every piece by itself, its share of the quads by its area.
 * @throws StepError `empty`, `not-manifold`, `no-net`
 */
export function quadNet(input: TriMesh, choice: NetChoice, work: Work = quiet): Net {
  if (!triangleCount(input)) throw new StepError('empty', 'The mesh holds no triangles.')
  const topology = buildTopology(input)
  const { piece, count } = findPieces(input, topology)
  const whole = meshArea(input)
  const nets: Net[] = []
  for (let i = 0; i < count; i++) {
    const part =
      count === 1
        ? input
        : keepTriangles(
            input,
            Uint8Array.from(piece, (p) => (p === i ? 1 : 0)),
          ).mesh
    const t = buildTopology(part)
    const flags = creaseFlags(part, t, choice.hardAngle)
    const share = meshArea(part) / whole
    const wanted = Math.max(fewest, Math.round(choice.count * share))
    const lines = new CreaseLines(part, t, flags, Math.sqrt(meshArea(part) / wanted))
    nets.push(netOfPiece(part, new Ground(part), lines, { ...choice, count: wanted }, work))
  }
  return joined(nets)
}

function joined(nets: readonly Net[]): Net {
  if (nets.length === 1) return nets[0]
  const positions = new Float32Array(nets.reduce((s, n) => s + n.net.positions.length, 0))
  const quads = new Uint32Array(nets.reduce((s, n) => s + n.net.quads.length, 0))
  let [p, q] = [0, 0]
  for (const { net } of nets) {
    positions.set(net.positions, p)
    quads.set(net.quads.map((v) => v + p / 3), q) // prettier-ignore
    p += net.positions.length
    q += net.quads.length
  }
  return { net: { positions, quads }, rounded: nets.reduce((s, n) => s + n.rounded, 0) }
}
