/**
 * The smooth surface of a cage as B-spline faces: regular quads in large exact rectangles, quads at irregular points as patches of degree 5 on
 * the same borders, all told as one body of faces, edges and corners (ISO 10303-42).
 */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { BoundBody, BoundEdge, BoundFace } from '@/core/bodies/bounded'
import { addScaled, cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { withHollows } from '@/core/clean/bodies'
import { nextInQuad, prevInQuad, trianglesOfQuads } from '@/core/mesh/quad-mesh'
import { meshVolume } from '@/core/mesh/measures'
import { meshBounds, placeAt } from '@/core/mesh/tri-mesh'
import { spokesOf, subdivide, type Cage } from '@/core/subdivision/subdivide'
import { blockAt, blocksOf, clamped, controlGrid, polesOf, type Block } from './blocks'
import { leavingWay, limitFrame, limitNormal, type LimitFrame } from './corners'
import {
  cubicAlong,
  degree,
  irregularPatch,
  onSide,
  patchAt,
  raised,
  type Border,
  type Sample,
} from './irregular-patch'

export interface SmoothBody {
  readonly body: BoundBody
  /** Faces at irregular points. */
  readonly irregular: number
  /** Greatest angle between neighbouring faces along edges that are no creases, degrees. */
  readonly worstAngle: number
  /** Edges over which the body turns back on itself. */
  readonly folded: number
}

/** Faces that turn by more than this along an edge that is no crease lie folded, degrees. */
const foldAngle = 90

/** Steps of subdivision before faces are made: one keeps irregular points apart, more let semi-sharp creases run out. */
const mostSteps = 3
/** Steps to the places that irregular patches follow: 9 x 9 of each, as inner control points are 4 x 4. */
const sampleSteps = 3
/** Places along an edge where the faces on both sides are compared. */
const compared = [0.1, 0.3, 0.5, 0.7, 0.9]

function ready(cage: Cage): Cage {
  let now = subdivide(cage)
  const soft = (c: Cage) => [...c.creases.values(), ...c.corners.values()].some(Number.isFinite)
  for (let s = 1; s < mostSteps && soft(now); s++) now = subdivide(now)
  if (!soft(now)) return now
  const firm = (m: ReadonlyMap<number, number>) => new Map([...m].filter(([, s]) => !Number.isFinite(s)))
  return { ...now, creases: firm(now.creases), corners: firm(now.corners) }
}

/** A run of cage edges that is one edge of the body. */
interface Chain {
  readonly from: number
  readonly to: number
  /** Cubic, with simple knots inside; from `from` to `to`. */
  readonly poles: readonly Vec3[]
  readonly spans: number
  readonly sharp: boolean
  /** Faces on it: unit normal at a share of its length. */
  readonly sides: { face: number; normal(t: number): Vec3 }[]
}

interface Side {
  readonly edges: readonly number[]
  /** Place and derivatives of the face's surface where `t` edges of the side have been walked. */
  at(t: number): { du: Vec3; dv: Vec3 }
}

const unitNormal = ({ du, dv }: { du: Vec3; dv: Vec3 }): Vec3 => normalize(cross(du, dv))

/** The four sides of a block, against the clock. */
function sidesOf({ base, m, n }: Block, grid: readonly Vec3[]): Side[] {
  const b = (i: number, j: number) => base[i + m * j]
  const count = (k: number) => Array.from({ length: k }, (_, i) => i)
  const at = (u: number, v: number) => blockAt(grid, m, n, u, v)
  return [
    { edges: count(m).map((i) => b(i, 0)), at: (t) => at(t, 0) },
    { edges: count(n).map((j) => nextInQuad(b(m - 1, j))), at: (t) => at(m, t) },
    { edges: count(m).map((i) => nextInQuad(nextInQuad(b(m - 1 - i, n - 1)))), at: (t) => at(m - t, n) },
    { edges: count(n).map((j) => prevInQuad(b(0, n - 1 - j))), at: (t) => at(0, n - t) },
  ]
}

/** Control points of the even cubic along a side of a block, from one before its start on. */
function sideRow(grid: readonly Vec3[], { m, n }: Block, side: number): Vec3[] {
  const wide = m + 3
  const mix = (a: Vec3, b: Vec3, c: Vec3): Vec3 => [0, 1, 2].map((k) => (a[k] + 4 * b[k] + c[k]) / 6) as unknown as Vec3
  const along = side % 2 === 0
  const line = side === 0 || side === 3 ? 1 : along ? n + 1 : m + 1
  const row = Array.from({ length: (along ? m : n) + 3 }, (_, i) => {
    const g = (d: number) => (along ? grid[i + wide * (line + d)] : grid[line + d + wide * i])
    return mix(g(-1), g(0), g(1))
  })
  return side < 2 ? row : row.reverse()
}

/** The edges of the body as they come up, and the loop of them round each face. */
class Chains {
  readonly list: Chain[] = []
  readonly loops: { edge: number; forward: boolean }[][] = []
  private readonly of: Int32Array

  constructor(private readonly f: LimitFrame) {
    this.of = new Int32Array(f.topology.edges).fill(-1)
  }

  at(h: number): Chain | undefined {
    return this.list[this.of[this.f.topology.edge[h]]]
  }

  /** The run of edges along some half-edges as the next side of a face; `normal`: of the face along it. */
  add(face: number, run: readonly number[], make: () => Omit<Chain, 'sides'>, normal: (t: number) => Vec3): void {
    const { edge } = this.f.topology
    const known = this.of[edge[run[0]]]
    const id = known < 0 ? this.list.length : known
    if (known < 0) this.list.push({ ...make(), sides: [] })
    for (const h of run) this.of[edge[h]] = id
    const forward = this.list[id].from === this.f.cage.quads[run[0]]
    ;(this.loops[face] ??= []).push({ edge: id, forward })
    this.list[id].sides.push({ face, normal: forward ? normal : (t) => normal(1 - t) })
  }

  /** How the two faces along each edge that is no crease turn; between blocks they are smooth by themselves. */
  turns(blocks: number): { worst: number; folded: number } {
    let [worst, folded] = [0, 0]
    for (const { sharp, sides } of this.list) {
      if (sharp || sides.length !== 2 || sides.every((s) => s.face < blocks)) continue
      let most = 0
      for (const t of compared) {
        const d = Math.max(-1, Math.min(1, dot(sides[0].normal(t), sides[1].normal(t))))
        most = Math.max(most, (Math.acos(d) * 180) / Math.PI)
      }
      worst = Math.max(worst, most)
      if (most > foldAngle) folded++
    }
    return { worst, folded }
  }
}

/** The runs of edges round blocks, from corner of the body to corner. */
function addBlocks(chains: Chains, f: LimitFrame, blocks: readonly Block[], grids: readonly Vec3[][], odd: number[]) {
  const { quads } = f.cage
  // Corners of the body: those of every face.
  const node = new Uint8Array(f.cage.positions.length / 3)
  const blockSides = blocks.map((b, i) => sidesOf(b, grids[i]))
  for (const sides of blockSides) for (const s of sides) node[quads[s.edges[0]]] = 1
  for (const q of odd) for (let h = 4 * q; h < 4 * q + 4; h++) node[quads[h]] = 1
  blocks.forEach((block, face) => {
    blockSides[face].forEach((side, s) => {
      const row = sideRow(grids[face], block, s)
      for (let a = 0; a < side.edges.length;) {
        let b = a + 1
        while (b < side.edges.length && !node[quads[side.edges[b]]]) b++
        const run = side.edges.slice(a, b)
        const [from, to] = [quads[run[0]], quads[nextInQuad(run[run.length - 1])]]
        // All edges of the run are the same chain from either side.
        const [start, length] = [a, b - a]
        const made = () => ({
          from,
          to,
          poles: clamped(row, start, start + length),
          spans: length,
          sharp: f.sharp[run[0]] === 1,
        })
        chains.add(face, run, made, (t) => unitNormal(side.at(start + t * length)))
        a = b
      }
    })
  })
}

/** The edge along one side of an irregular quad, one cubic through the limit surface. */
function edgeOf(f: LimitFrame, h: number, along: readonly Sample[], side: number): Omit<Chain, 'sides'> {
  const { quads } = f.cage
  const { twin } = f.topology
  const [from, to] = [quads[h], quads[nextInQuad(h)]]
  const poles = cubicAlong(
    placeAt(f.limit, from),
    placeAt(f.limit, to),
    [leavingWay(f, h), twin[h] >= 0 ? leavingWay(f, twin[h]) : rimWay(f, h)],
    along.map((s) => ({ t: shareAlong(s, side), at: s.at })),
  )
  return { from, to, poles, spans: 1, sharp: f.sharp[h] === 1 }
}

/** The patch of an irregular quad; its sides are added to the chains. `blocks`: how many faces are blocks. */
function patchOf(chains: Chains, f: LimitFrame, q: number, face: number, own: readonly Sample[], blocks: number) {
  const { quads } = f.cage
  const grid: Vec3[] = []
  const borders = [0, 1, 2, 3].map((side): Border => {
    const h = 4 * q + side
    const make = () =>
      edgeOf(
        f,
        h,
        own.filter((s) => isOnSide(s, side)),
        side,
      )
    chains.add(face, [h], make, (t) => unitNormal(patchAt(grid, ...onSide(side, t))))
    const chain = chains.at(h)!
    const forward = chain.from === quads[h]
    const curve = forward ? chain.poles : [...chain.poles].reverse()
    const block = chain.sides.find((s) => s.face < blocks)
    const normal = chain.sharp
      ? null
      : block
        ? (t: number) => block.normal(forward ? t : 1 - t)
        : normalAlong(curve, bordersOf(own, side))
    return { curve: raised(curve), normal }
  })
  grid.push(...irregularPatch(borders, own))
  return grid
}

/**
 * The smooth surface of a cage as one body of faces; see the file's head.
 * @throws Stopped
 */
export function smoothBody(cage: Cage, work: Work = quiet): SmoothBody {
  const c = ready(cage)
  const f = limitFrame(c)
  const { blocks, of } = blocksOf(f)
  const grids = blocks.map((b) => controlGrid(f, b))
  const odd: number[] = []
  of.forEach((b, q) => {
    if (b < 0) odd.push(q)
  })
  checkStop(work)
  work.progress(0.1, 'patches')
  const chains = new Chains(f)
  addBlocks(chains, f, blocks, grids, odd)
  const samples = samplesOf(c, odd, f)
  const patches = odd.map((q, i) => {
    if ((i & 31) === 0) {
      checkStop(work)
      work.progress(0.1 + (0.4 * i) / odd.length, 'patches')
    }
    return patchOf(chains, f, q, blocks.length + i, samples.get(q)!, blocks.length)
  })
  work.progress(0.5, 'faces')
  const { worst, folded } = chains.turns(blocks.length)
  return {
    body: bodyOf(f, chains.list, chains.loops, blocks, grids, odd, patches),
    irregular: odd.length,
    worstAngle: worst,
    folded,
  }
}

/** How a rim's edge leaves its end, back along itself. */
function rimWay({ cage, rules }: LimitFrame, h: number) {
  const [v, w] = [cage.quads[nextInQuad(h)], cage.quads[h]]
  const { corner, ends } = rules[v]
  const p = cage.positions
  if (corner) return { way: sub(placeAt(p, w), placeAt(p, v)), exact: true }
  if (!ends) return null
  const d = sub(placeAt(p, w), placeAt(p, ends[0] === w ? ends[1] : ends[0]))
  return { way: [d[0] / 2, d[1] / 2, d[2] / 2] as Vec3, exact: true }
}

/** How far along a side of a patch a place of it is, from the side's first corner on. */
const shareAlong = (s: Sample, side: number): number => [s.u, s.v, 1 - s.u, 1 - s.v][side]
const isOnSide = (s: Sample, side: number): boolean => [s.v === 0, s.u === 1, s.v === 1, s.u === 0][side]

/** The samples along one side of a patch, from its first corner on. */
const bordersOf = (samples: readonly Sample[], side: number): Sample[] =>
  samples.filter((s) => isOnSide(s, side)).sort((a, b) => shareAlong(a, side) - shareAlong(b, side))

/**
 * Normals along a cubic: those of the limit surface at places evenly spread from one end to the other, a cubic between them (Catmull & Rom
 * 1974), square to it everywhere. Normals of any other surface would not suit both borders at a corner, and the patch would ripple.
 */
function normalAlong(cubic: readonly Vec3[], samples: readonly Sample[]): ((t: number) => Vec3) | null {
  const n = samples.map((s) => s.normal)
  if (n.length < 2 || !n.every((v) => v)) return null
  const at = (i: number): Vec3 => {
    const last = n.length - 1
    if (i >= 0 && i <= last) return n[i]!
    // Beyond the ends they turn on as they turned.
    const [a, b] = i < 0 ? [n[0]!, n[1]!] : [n[last]!, n[last - 1]!]
    return [2 * a[0] - b[0], 2 * a[1] - b[1], 2 * a[2] - b[2]]
  }
  return (t) => {
    const s = 1 - t
    const w = [s * s, 2 * s * t, t * t]
    const way = normalize(
      [0, 1, 2].map((k) => w.reduce((x, v, i) => x + v * (cubic[i + 1][k] - cubic[i][k]), 0)) as unknown as Vec3,
    )
    const i = Math.min(n.length - 2, Math.floor(t * (n.length - 1)))
    const x = t * (n.length - 1) - i
    const r = [-x * (1 - x) ** 2, 2 - 5 * x * x + 3 * x ** 3, x + 4 * x * x - 3 * x ** 3, x * x * (x - 1)]
    const m = [0, 1, 2].map((k) => r.reduce((sum, v, j) => sum + (v / 2) * at(i - 1 + j)[k], 0)) as unknown as Vec3
    return normalize(addScaled(m, way, -dot(m, way)))
  }
}

/** Places of the limit surface over some quads, from the quads round them alone. */
function samplesOf(c: Cage, some: readonly number[], f: LimitFrame): Map<number, Sample[]> {
  const near = new Set(some)
  for (let ring = 0; ring < 2; ring++)
    for (const q of [...near])
      for (let h = 4 * q; h < 4 * q + 4; h++) for (const s of spokesOf(f.topology, c.quads[h])) near.add(s >> 2)
  // Those that are asked for come first.
  const asked = new Set(some)
  const list = [...some, ...[...near].filter((q) => !asked.has(q))]
  const number = new Map<number, number>()
  const positions: number[] = []
  const quads: number[] = []
  for (const q of list)
    for (let h = 4 * q; h < 4 * q + 4; h++) {
      const v = c.quads[h]
      let n = number.get(v)
      if (n === undefined) {
        number.set(v, (n = number.size))
        positions.push(...placeAt(c.positions, v))
      }
      quads.push(n)
    }
  const creases = new Map<number, number>()
  for (const q of list)
    for (let h = 4 * q; h < 4 * q + 4; h++) {
      const [a, b] = [c.quads[h], c.quads[nextInQuad(h)]]
      const s = c.creases.get(edgeKey(a, b))
      if (s) creases.set(edgeKey(number.get(a)!, number.get(b)!), s)
    }
  const corners = new Map([...c.corners].filter(([v]) => number.has(v)).map(([v, s]) => [number.get(v)!, s]))
  let fine: Cage = { positions: Float64Array.from(positions), quads: Uint32Array.from(quads), creases, corners }
  // Where in its quad each corner of the finer quads lies.
  let uv: Float64Array = Float64Array.from({ length: 2 * quads.length }, (_, i) => [0, 0, 1, 0, 1, 1, 0, 1][i % 8])
  for (let s = 0; s < sampleSteps; s++) {
    fine = subdivide(fine)
    const next = new Float64Array(4 * uv.length)
    for (let h = 0; h < uv.length / 2; h++) {
      const corner = (g: number, k: number) => uv[2 * g + k]
      for (let k = 0; k < 2; k++) {
        const middle = [0, 1, 2, 3].reduce((x, i) => x + corner((h & ~3) + i, k), 0) / 4
        next[8 * h + k] = corner(h, k)
        next[8 * h + 2 + k] = (corner(h, k) + corner(nextInQuad(h), k)) / 2
        next[8 * h + 4 + k] = middle
        next[8 * h + 6 + k] = (corner(h, k) + corner(prevInQuad(h), k)) / 2
      }
    }
    uv = next
  }
  const frame = limitFrame(fine)
  const each = 4 * 4 ** sampleSteps
  return new Map(
    some.map((q, i) => {
      const seen = new Set<number>()
      const out: Sample[] = []
      for (let h = i * each; h < (i + 1) * each; h++) {
        const v = fine.quads[h]
        if (seen.has(v)) continue
        seen.add(v)
        const [x, y] = [uv[2 * h], uv[2 * h + 1]]
        const atBorder = x === 0 || x === 1 || y === 0 || y === 1
        out.push({ u: x, v: y, at: placeAt(frame.limit, v), normal: atBorder ? limitNormal(frame, h) : null })
      }
      return [q, out]
    }),
  )
}

const countTo = (n: number) => Array.from({ length: n + 1 }, (_, i) => i)
const cubicEnds = (spans: number) => countTo(spans).map((i) => (i === 0 || i === spans ? 4 : 1))

function bodyOf(
  f: LimitFrame,
  chains: readonly Chain[],
  loops: readonly { edge: number; forward: boolean }[][],
  blocks: readonly Block[],
  grids: readonly Vec3[][],
  odd: readonly number[],
  patches: readonly Vec3[][],
): BoundBody {
  const number = new Map<number, number>()
  const corners: Vec3[] = []
  const cornerOf = (v: number): number => {
    let n = number.get(v)
    if (n === undefined) {
      number.set(v, (n = corners.length))
      corners.push(placeAt(f.limit, v))
    }
    return n
  }
  const edges = chains.map((c): BoundEdge => ({
    from: cornerOf(c.from),
    to: cornerOf(c.to),
    curve: { kind: 'spline', degree: 3, poles: c.poles, knots: countTo(c.spans), multiplicities: cubicEnds(c.spans) },
  }))
  const faces = loops.map((loop, i): BoundFace => {
    const surface: BoundFace['surface'] =
      i < blocks.length
        ? {
            kind: 'spline',
            degree: 3,
            poles: polesOf(grids[i], blocks[i].m, blocks[i].n),
            knots: [countTo(blocks[i].m), countTo(blocks[i].n)],
            multiplicities: [cubicEnds(blocks[i].m), cubicEnds(blocks[i].n)],
          }
        : {
            kind: 'spline',
            degree,
            poles: countTo(degree).map((u) =>
              countTo(degree).map((v) => patches[i - blocks.length][u + (degree + 1) * v]),
            ),
            knots: [
              [0, 1],
              [0, 1],
            ],
            multiplicities: [
              [degree + 1, degree + 1],
              [degree + 1, degree + 1],
            ],
          }
    return { surface, x: [1, 0, 0], flip: false, loops: [loop] }
  })
  // Shells: faces that hang together.
  const joined = new DisjointSets(loops.length)
  for (const { sides } of chains) for (const s of sides) joined.unite(s.face, sides[0].face)
  const positions = Float32Array.from(f.limit)
  const shellOf = (list: readonly number[]) => {
    const quads = list.flatMap((i) =>
      i < blocks.length ? blocks[i].base.map((h) => h >> 2) : [odd[i - blocks.length]],
    )
    const mesh = trianglesOfQuads({
      positions,
      quads: Uint32Array.from(quads.flatMap((q) => Array.from(f.cage.quads.subarray(4 * q, 4 * q + 4)))),
    })
    return { list, volume: meshVolume(mesh), box: meshBounds(mesh) }
  }
  const shells = joined.groups()
  return {
    corners,
    edges,
    faces,
    shells: withHollows([...shells.values()].map(shellOf)).map(({ outer, hollows }) => ({
      outer: outer.list,
      hollows: hollows.map((h) => h.list),
    })),
    closed: chains.every((c) => c.sides.length === 2),
  }
}
