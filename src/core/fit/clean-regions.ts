/**
 * Surfaces of a drawn part from its facets: corners of clean tessellations lie on the surfaces themselves, facets of one round wall are
 * alike and turn by like angles, and what is flat is one facet however many triangles it is cut into.
 */
import { DisjointSets } from '@/core/math/disjoint-sets'
import type { SkinField } from '@/core/find/smooth-surface'
import { cross, distance, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, triangleOf } from '@/core/mesh/topology'
import {
  corners,
  crossOf,
  diagonal,
  meshBounds,
  triangleArea,
  triangleCount,
  vertex,
  verticesOf,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { checkStop, type Work } from '@/core/base/work'
import { fitKind, type Fitted } from './fit-shape'
import { samplesOf, type Samples } from './samples'
import { normalOf, offShape, type ShapeKind } from './shape'

/** Triangles in one plane that hang together. */
interface Facet {
  readonly triangles: number[]
  readonly area: number
  readonly normal: Vec3
  /** Vertices where it meets two others or more: those of the surface. What lies between on its sides, and inside, only divides it. */
  readonly corners: number[]
  /** Facets beside it, with how much it turns to them, radians. */
  readonly beside: Map<number, number>
}

/** Triangles that turn less than this are in one plane, radians. */
const flatTurn = 0.002
/** Facets of one wall turn less than this from one to the next, radians. */
const wallTurn = 0.75
/** Facets of one wall are alike: the larger has at most so many times the area of the smaller beside it. */
const alike = 4
/** Radii of more than so many times the part's size are none. */
const mostRadius = 5
/** With so many facets on it a shape is no accident: no other start is tried. */
const enoughFacets = 10
/** Facets that a round wall has at least. */
const leastFacets = 3

/** @param step mm: what coordinates were rounded to; 0 where they were not */
function facetsOf({ mesh, topology, normals }: SkinField, step: number): { facets: Facet[]; of: Int32Array } {
  const n = triangleCount(mesh)
  const of = new Int32Array(n).fill(-1)
  const cosine = Math.cos(flatTurn)
  const normal = (t: number): Vec3 => [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
  const facets: Facet[] = []
  // Rounded corners tell a plane by large triangles only.
  const order = [...Array(n).keys()]
  if (step) order.sort((a, b) => triangleArea(mesh, b) - triangleArea(mesh, a) || a - b)
  for (const s of order) {
    if (of[s] >= 0) continue
    const list = [s]
    of[s] = facets.length
    let area = 0
    const own = normal(s)
    const rounded = step ? roundedPlane(mesh, s, own, step) : null
    for (const t of list) {
      area += triangleArea(mesh, t)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w < 0) continue
        const u = triangleOf(w)
        // Against the first one too, so that a fine wall does not creep round.
        const flat = (dot(normal(u), normal(t)) > cosine && dot(normal(u), own) > cosine) || rounded?.(u, normal(u))
        if (of[u] < 0 && flat) {
          of[u] = of[s]
          list.push(u)
        }
      }
    }
    const whole = step ? meanNormal(mesh, list) : own
    facets.push({ triangles: list, area, normal: whole, corners: [], beside: new Map() })
  }
  for (let h = 0; h < 3 * n; h++) {
    const w = topology.twin[h]
    if (w < 0) continue
    const [a, b] = [of[triangleOf(h)], of[triangleOf(w)]]
    if (a === b) continue
    facets[a].beside.set(b, Math.acos(Math.max(-1, Math.min(1, dot(facets[a].normal, facets[b].normal)))))
  }
  // Facets round each vertex; a rim counts as one.
  const around = new Map<number, Set<number>>()
  const note = (v: number, facet: number) => {
    const set = around.get(v)
    if (set) set.add(facet)
    else around.set(v, new Set([facet]))
  }
  for (let h = 0; h < 3 * n; h++) {
    note(mesh.triangles[h], of[triangleOf(h)])
    if (topology.twin[h] >= 0) continue
    note(mesh.triangles[h], -1)
    note(mesh.triangles[nextIn(h)], -1)
  }
  for (const [v, set] of around) if (set.size > 2) for (const k of set) if (k >= 0) facets[k].corners.push(v)
  // A facet of no such corner, as a lone flat one has it, keeps all of them.
  for (const f of facets) if (f.corners.length < 3) f.corners.splice(0, Infinity, ...verticesOf(mesh, f.triangles))
  return { facets, of }
}

/** A rounded corner is off by this share of the step at most: half of it along each axis. */
const rounding = Math.sqrt(3) / 2

/** Whether a triangle lies in the plane of another as well as rounded corners can tell: they carry their error on as far as it is extended. */
function roundedPlane(mesh: TriMesh, seed: number, own: Vec3, step: number): (t: number, normal: Vec3) => boolean {
  const [a, b, c] = corners(mesh, seed)
  const [u, v] = [sub(b, a), sub(c, a)]
  const twice = dot(cross(u, v), own) || 1e-300
  const tilt = (2 * rounding * step) / heightOf(mesh, seed)
  return (t, normal) => {
    const height = heightOf(mesh, t)
    // Rounding tilts a triangle by what it moves corners over its height; a sliver faces anywhere, and only where it lies tells.
    const turn = Math.acos(Math.max(-1, Math.min(1, dot(normal, own))))
    if (turn > flatTurn + tilt + (2 * rounding * step) / height && height > noHeight * step) return false
    return corners(mesh, t).every((p) => {
      const d = sub(p, a)
      const [second, third] = [dot(cross(d, v), own) / twice, dot(cross(u, d), own) / twice]
      const carried = Math.abs(1 - second - third) + Math.abs(second) + Math.abs(third)
      return Math.abs(dot(d, own)) < rounding * step * (1 + carried)
    })
  }
}

function meanNormal(mesh: TriMesh, list: readonly number[]): Vec3 {
  const sum = [0, 0, 0]
  for (const t of list) crossOf(mesh, t).forEach((v, k) => (sum[k] += v))
  return normalize(sum as unknown as Vec3)
}

const centreOf = (mesh: TriMesh, triangles: readonly number[]): Vec3 => {
  const s = [0, 0, 0]
  let total = 0
  for (const t of triangles) {
    const a = triangleArea(mesh, t)
    total += a
    for (let c = 0; c < 3; c++) {
      const p = vertex(mesh, mesh.triangles[3 * t + c])
      for (let k = 0; k < 3; k++) s[k] += (a * p[k]) / 3
    }
  }
  return [s[0] / total, s[1] / total, s[2] / total]
}

/** A facet lies on a shape: its corners do, and it faces as the shape does at its middle. */
function on(f: SkinField, facet: Facet, shape: Fitted, within: number): boolean {
  for (const v of facet.corners) if (Math.abs(offShape(shape, vertex(f.mesh, v))) > within) return false
  const n = normalOf(shape, centreOf(f.mesh, facet.triangles))
  return dot(n, facet.normal) * (shape.inside ? -1 : 1) > 0.95 && length(n) > 0.5
}

const round: readonly ShapeKind[] = ['cylinder', 'cone', 'sphere', 'ring']

/** Corners of facets with the mean of the facets' normals there. */
function cornersOf(f: SkinField, chosen: readonly Facet[]): Samples {
  const sums = new Map<number, [number, number, number, number]>()
  for (const facet of chosen)
    for (const v of facet.corners) {
      const s = sums.get(v) ?? [0, 0, 0, 0]
      const share = facet.area / facet.corners.length
      for (let k = 0; k < 3; k++) s[k] += share * facet.normal[k]
      s[3] += share
      sums.set(v, s)
    }
  const kept = [...sums].filter(([, s]) => Math.hypot(s[0], s[1], s[2]) > 0)
  return {
    points: kept.map(([v]) => vertex(f.mesh, v)),
    normals: kept.map(([, s]) => normalize([s[0], s[1], s[2]])),
    weights: kept.map(([, s]) => s[3]),
  }
}

/** A fit that is so many tolerances off before its last and longest steps does not come down to one: all but balls have long valleys. */
const hopeless: Record<ShapeKind, number> = { plane: 1.5, cylinder: 10, cone: 3, sphere: 1.5, ring: 10 }

/** Round shapes through some facets, all of whose corners lie on them. */
function through(f: SkinField, chosen: readonly Facet[], within: number, size: number, kinds = round): Fitted[] {
  const samples = cornersOf(f, chosen)
  return kinds.flatMap((kind): Fitted[] => {
    try {
      // What is far off after some steps stays off.
      const quick = fitKind(kind, samples, {}, { lots: 0, patient: 'some' })
      if (quick.max > hopeless[kind] * within) return []
      const fit = quick.max > within ? fitKind(kind, samples, {}, { lots: 0 }) : quick
      const large = Math.max(fit.radius ?? 0, fit.thickness ?? 0) > mostRadius * size
      const blunt = fit.kind === 'cone' && (fit.halfAngle! < 0.3 || fit.halfAngle! > 89.7)
      return large || blunt || fit.max > within || !chosen.every((c) => on(f, c, fit, within)) ? [] : [fit]
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      return []
    }
  })
}

export interface CleanRegion {
  /** Null for facets of a surface that is none of the shapes. */
  readonly shape: Fitted | null
  readonly facets?: readonly number[]
  readonly triangles: number[]
}

/** Corners that a shape has to explain: twice as many as it has freedoms. */
const leastCorners: Record<ShapeKind, number> = { plane: 3, cylinder: 8, cone: 12, sphere: 8, ring: 14 }
/** A ring so wide for its tube is nearly a cylinder, as which a wall that is none is taken by accident: it takes so many times more corners. */
const slowRing = (s: Fitted) => s.kind === 'ring' && s.radius! > 12 * s.thickness!
const slowTimes = 3
/** A shape that is off by more than so many times what the others are is none. */
const sureTimes = 8

/** Few facets alone tell a shape only as closely as numbers are kept: within this share of the size. */
const smallShare = 5e-7

type RoundRegion = CleanRegion & { readonly shape: Fitted }

/** Starts from one facet. */
const mostTries = 8

/** After so many starts that end nowhere it is asked whether this is a clean tessellation at all; after more no other is made. */
const manyFailures = 60
const mostFailures = 60
const moreFailures = 80
const fullTries = 30
/** So many facets round a start that ends nowhere, or one in 2^5 of all, are no starts at first. */
const leastVain = 40
const vainShift = 5
/** It is one when this share of its skin is told by then. */
const leastTold = 0.2

/** Regions of a clean tessellation: round walls first, what is left is flat. Null where it turns out to be none. */
export function cleanRegions(
  f: SkinField,
  within: number,
  work: Work,
  { patience = manyFailures, step = 0 }: { patience?: number; step?: number } = {},
): CleanRegion[] | null {
  const size = diagonal(meshBounds(f.mesh)) || 1
  const { facets } = facetsOf(f, step)
  const taken = new Int8Array(facets.length)
  const out: RoundRegion[] = []
  const order = [...facets.keys()].sort((a, b) => facets[b].area - facets[a].area || a - b)
  let done = 0
  let failures = 0
  let told = 0
  const whole = facets.reduce((sum, x) => sum + x.area, 0)
  /** Rms of the shapes that are no accident. */
  const sure: number[] = []
  /** Facets beside starts that ended nowhere: they would end there too. */
  const vain = new Uint8Array(facets.length)
  const hopelessly = () => failures >= patience && told < leastTold * whole
  /** Tries one facet; false when no more are to be tried. */
  const tryFrom = (seed: number, wide: boolean): boolean => {
    done++
    if (taken[seed] || vain[seed]) return true
    checkStop(work)
    work.progress(Math.min(0.9, (0.6 * done) / facets.length), `${out.length} regions`)
    const walls = [...facets[seed].beside].filter(
      ([k, turn]) => !taken[k] && turn < wallTurn && facets[seed].area < alike * facets[k].area,
    )
    let region: number[] | null = null
    let shape: Fitted | null = null
    // The seed with one neighbour and that one's next: three facets in a row tell a wall; then with all neighbours.
    const tries: number[][] = []
    for (const [k, turn] of walls) {
      const next = [...facets[k].beside].find(
        ([j, t]) => j !== seed && !taken[j] && Math.abs(t - turn) < 0.25 * turn + 1e-3 && facets[k].area < alike * facets[j].area && facets[j].area < alike * facets[k].area, // prettier-ignore
      )
      if (next) tries.push([seed, k, next[0]])
    }
    // All neighbours first: a ball or ring is told by them at once.
    if (walls.length > 1) tries.unshift([seed, ...walls.map(([k]) => k)])
    if (walls.length > 2) {
      // With those beyond as well: inner corners have whole normals, which a ring's start needs.
      const near = new Set([seed, ...walls.map(([k]) => k)])
      for (const [k] of walls)
        for (const [j, turn] of facets[k].beside)
          if (!taken[j] && turn < wallTurn && facets[k].area < alike * facets[j].area) near.add(j)
      tries.unshift([...near].slice(0, 40))
    }
    // Walls whose corners stand aslant fall into single triangles, and take more of them to be told.
    if (walls.length && walls.length < 3) for (const many of stripFacets) tries.push(runOn(facets, taken, seed, many))
    let most = 0
    // Where nothing comes of many starts, only those that tell most are made.
    const telling = failures < fullTries ? tries.slice(0, mostTries) : tries.length > 2 ? [tries[0], tries[tries.length - 1]] : tries // prettier-ignore
    for (const some of telling) {
      if (region && region.length >= enoughFacets) break
      const chosen = some.map((k) => facets[k])
      for (const first of through(f, chosen, within, size)) {
        let now = first
        let list = spread(f, facets, taken, some, now, within)
        // What has grown tells the shape better: once more from there; where corners were rounded, step by step.
        for (let round = 0; round < (step ? roundedRounds : 1); round++) {
          const before = list.length
          const [better] =
            list.length > some.length
              ? through(f, list.slice(0, 400).map((k) => facets[k]), within, size, [now.kind]) // prettier-ignore
              : []
          const more = better ? spread(f, facets, taken, some, better, within) : []
          if (!better || (step && more.length < before)) break
          now = better
          list = more
          if (list.length === before) break
        }
        const area = list.reduce((sum, k) => sum + facets[k].area, 0)
        // The simpler of two that explain as much: kinds come in that order.
        if (list.length < leastFacets || area <= most * 1.001) continue
        most = area
        region = list
        shape = now
      }
    }
    // Few facets may tell a ball where all of the region tells the wall that was meant: two equal circles lie on both.
    if (region && shape && shape.kind !== 'cylinder') {
      const all: readonly number[] = region
      const [wall] = through(f, all.slice(0, 400).map((k) => facets[k]), within, size, ['cylinder']) // prettier-ignore
      if (wall && all.every((k) => on(f, facets[k], wall, within))) {
        shape = wall
        region = spread(f, facets, taken, all, wall, within)
      }
    }
    if (!tries.length && wide) told += facets[seed].area
    // Few corners lie on some ball or ring by accident, and smooth surfaces on one nearly: not as closely as on their own.
    if (region && shape) {
      const corners = new Set<number>()
      for (const k of region) for (const v of facets[k].corners) corners.add(v)
      const small = region.length < enoughFacets ? Math.max(smallShare * size, step / 2) : within
      const usual = sure.length ? [...sure].sort((a, b) => a - b)[sure.length >> 1] : small / sureTimes
      if (
        corners.size < (slowRing(shape) ? slowTimes : 1) * leastCorners[shape.kind] ||
        shape.rms > Math.max(sureTimes * usual, 1e-7 * size)
      )
        region = null
      else if (region.length >= enoughFacets) sure.push(shape.rms)
    }
    if (tries.length && !region) {
      failures++
      if (failures > mostFailures + (wide ? 0 : moreFailures) || hopelessly()) return false
      for (const k of wide
        ? runOn(facets, taken, seed, Math.max(leastVain, facets.length >> vainShift))
        : walls.map(([k]) => k))
        vain[k] = 1
    }
    if (region && shape) {
      told += region.reduce((sum, k) => sum + facets[k].area, 0)
      for (const k of region) taken[k] = 1
      out.push({ shape, facets: region, triangles: region.flatMap((k) => facets[k].triangles) })
    }
    return true
  }
  // Where a start ends nowhere its surroundings are left alone at first, so that the starts go round the whole part.
  for (const wide of [true, false]) {
    vain.fill(0)
    for (const seed of order) if (!tryFrom(seed, wide)) break
    if (hopelessly()) return null
  }
  const bands = joinBands(f, facets, out, within, size)
  const flat = [...facets.keys()].filter((k) => !taken[k])
  const left = joinRims(f, facets, bands, flat, within)
  const free = freeRuns(facets, left.flat)
  const inFree = new Set(free.flat())
  return [
    ...left.round,
    ...left.flat
      .filter((k) => !inFree.has(k))
      .flatMap((k): CleanRegion[] => {
        try {
          return [
            {
              shape: fitKind('plane', samplesOf(f.mesh, facets[k].triangles), {}, { lots: 0 }),
              triangles: facets[k].triangles,
            },
          ]
        } catch (error) {
          if (!(error instanceof StepError)) throw error
          return []
        }
      }),
    ...free.map((list): CleanRegion => ({ shape: null, triangles: list.flatMap((k) => facets[k].triangles) })),
  ]
}

/** Shapes of rounded corners grow in so many rounds. */
const roundedRounds = 6
/** So many facets of a strip are tried. */
const stripFacets = [8, 14]

/** Facets that run on from one, those that turn least first. */
function runOn(facets: readonly Facet[], taken: Int8Array, seed: number, many: number): number[] {
  const run = new Set([seed])
  for (const k of run) {
    const next = [...facets[k].beside]
      .filter(
        ([j, turn]) =>
          !taken[j] &&
          turn < wallTurn &&
          facets[k].area < alike * facets[j].area &&
          facets[j].area < alike * facets[k].area,
      ) // prettier-ignore
      .sort((a, b) => a[1] - b[1])
    for (const [j] of next) if (run.size < many) run.add(j)
    if (run.size >= many) break
  }
  return [...run]
}

/** Facets that bend on from one to the next by less than this are of one surface, radians; so many of them are no accident. */
const freeTurn = 0.35
const leastFree = 6
/** Facets of a free surface may differ by so many times in area from one to the next. */
const freeAlike = 8

/** Runs of flat facets that bend on into each other: surfaces that are none of the shapes. */
function freeRuns(facets: readonly Facet[], flat: readonly number[]): number[][] {
  const left = new Set(flat)
  const out: number[][] = []
  for (const start of flat) {
    if (!left.has(start)) continue
    const run = [start]
    left.delete(start)
    for (const k of run)
      for (const [j, turn] of facets[k].beside) {
        const ratio = facets[j].area / facets[k].area
        if (!left.has(j) || turn > freeTurn || ratio > freeAlike || ratio < 1 / freeAlike) continue
        left.delete(j)
        run.push(j)
      }
    if (run.length >= leastFree) out.push(run)
  }
  return out
}

/** All facets reached from some that lie on a shape. */
function spread(
  f: SkinField,
  facets: readonly Facet[],
  taken: Int8Array,
  from: readonly number[],
  shape: Fitted,
  within: number,
): number[] {
  const seen = new Set(from)
  for (const k of seen)
    for (const [j, turn] of facets[k].beside)
      if (!seen.has(j) && !taken[j] && turn < wallTurn && on(f, facets[j], shape, within)) seen.add(j)
  return [...seen]
}

/** Bands of cones and cylinders that follow each other make up one ball or ring: two for a ball, three for a ring, whose section any three circles would fit. */
const bandsOf: Partial<Record<ShapeKind, number>> = { sphere: 2, ring: 3 }

/** Round regions with those that lie together on one ball or ring as one. */
function joinBands(
  f: SkinField,
  facets: readonly Facet[],
  regions: readonly RoundRegion[],
  within: number,
  size: number,
): RoundRegion[] {
  const of = new Map<number, number>()
  regions.forEach((r, i) => {
    for (const k of r.facets!) of.set(k, i)
  })
  const beside = regions.map((r, i) => {
    const near = new Set<number>()
    for (const k of r.facets!)
      for (const [j, turn] of facets[k].beside) {
        const other = of.get(j)
        if (other !== undefined && other !== i && turn < wallTurn) near.add(other)
      }
    return [...near]
  })
  const gone = new Set<number>()
  const out: RoundRegion[] = []
  const some = (r: RoundRegion) => {
    const step = Math.max(1, Math.ceil(r.facets!.length / 60))
    return r.facets!.filter((_, i) => i % step === 0).map((k) => facets[k])
  }
  const lies = (r: RoundRegion, shape: Fitted) => r.facets!.every((k) => on(f, facets[k], shape, within))
  for (const [i, r] of regions.entries()) {
    if (gone.has(i)) continue
    let best: { shape: Fitted; list: number[] } | null = null
    for (const a of beside[i]) {
      if (gone.has(a) || best) continue
      const third = [...beside[a], ...beside[i]].find((b) => b !== i && b !== a && !gone.has(b))
      const bands = third === undefined ? [i, a] : [i, a, third]
      const found = through(f, bands.flatMap((b) => some(regions[b])), within, size, ['sphere', 'ring']) // prettier-ignore
      for (const shape of found) {
        const seen = new Set([i])
        for (const b of seen)
          for (const c of beside[b]) if (!seen.has(c) && !gone.has(c) && lies(regions[c], shape)) seen.add(c)
        if (lies(r, shape) && seen.size >= bandsOf[shape.kind]! && seen.size > (best?.list.length ?? 0))
          best = { shape, list: [...seen] }
      }
    }
    // A ball or ring that was found by itself takes in bands that came before it.
    if (!best && bandsOf[r.shape.kind]) {
      const seen = new Set([i])
      for (const b of seen)
        for (const c of beside[b]) if (!seen.has(c) && !gone.has(c) && lies(regions[c], r.shape)) seen.add(c)
      if (seen.size > 1) best = { shape: r.shape, list: [...seen] }
    }
    if (!best) continue
    for (const b of best.list) gone.add(b)
    const all = best.list.flatMap((b) => regions[b].facets!)
    out.push({ shape: best.shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) })
  }
  return [...regions.filter((_, i) => !gone.has(i)), ...out]
}

/** A sliver is so few triangles, turns to its neighbours by less than this, radians, and faces as its surface does by this cosine. */
const sliverTriangles = 2
const sliverTurn = 1.2
const sliverFacing = 0.4
/** A triangle lower than so many tolerances faces anywhere, as at the tip of a cone. */
const noHeight = 4

/** Height of a triangle over its longest side. */
function heightOf(mesh: TriMesh, t: number): number {
  const [a, b, c] = corners(mesh, t)
  return (2 * triangleArea(mesh, t)) / (Math.max(distance(a, b), distance(b, c), distance(c, a)) || 1e-300)
}

/** Flat bands that lie on the round region beside them go to it, as at the top of a ring; round regions that meet so are one. */
function joinRims(
  f: SkinField,
  facets: readonly Facet[],
  regions: readonly RoundRegion[],
  flat: readonly number[],
  within: number,
): { round: RoundRegion[]; flat: number[] } {
  const of = new Map<number, number>()
  regions.forEach((r, i) => {
    for (const k of r.facets!) of.set(k, i)
  })
  const joined = new DisjointSets(regions.length)
  const more = new Map<number, number[]>()
  const rest: number[] = []
  const bandOn = (k: number, shape: Fitted, facing = 0.9) =>
    facets[k].triangles.every((t) => {
      if (corners(f.mesh, t).some((p) => Math.abs(offShape(shape, p)) > within)) return false
      if (heightOf(f.mesh, t) < noHeight * within) return true
      return dot(normalOf(shape, centreOf(f.mesh, [t])), facets[k].normal) * (shape.inside ? -1 : 1) > facing
    })
  for (const k of flat) {
    const near = [...facets[k].beside].flatMap(([j, turn]) => {
      const r = of.get(j)
      return r !== undefined && turn < wallTurn ? [r] : []
    })
    const mine = near.find((r) => bandOn(k, regions[r].shape))
    if (mine === undefined) {
      rest.push(k)
      continue
    }
    more.set(mine, [...(more.get(mine) ?? []), k])
    // What lies beyond the band on the same surface is the same region.
    for (const r of near)
      if (
        joined.find(r) !== joined.find(mine) &&
        regions[r].facets!.every((j) => on(f, facets[j], regions[mine].shape, 4 * within))
      )
        joined.unite(r, mine)
  }
  // Slivers face aside of the surface that all of their corners lie on: they go with what lies on two of their sides, small ones with what lies on one.
  const slivers = new Set(rest.filter((k) => facets[k].triangles.length <= sliverTriangles))
  for (const [r, list] of more) for (const k of list) of.set(k, r)
  const usual = regions.map((r) => {
    const areas = r.facets!.map((k) => facets[k].area).sort((a, b) => a - b)
    return areas[areas.length >> 1] / 2
  })
  for (let again = true; again;) {
    again = false
    for (const k of slivers) {
      const low = facets[k].triangles.every((t) => heightOf(f.mesh, t) < noHeight * within)
      const sides = [...facets[k].beside].flatMap(([j, turn]) => (low || turn < sliverTurn ? (of.get(j) ?? []) : []))
      const mine = sides.find(
        (r, i) => (sides.indexOf(r) !== i || facets[k].area < usual[r]) && bandOn(k, regions[r].shape, sliverFacing),
      )
      if (mine === undefined) continue
      of.set(k, mine)
      slivers.delete(k)
      more.set(mine, [...(more.get(mine) ?? []), k])
      again = true
    }
  }
  const left = rest.filter((k) => !of.has(k))
  const groups = new Map<number, number[]>()
  regions.forEach((_, i) => groups.set(joined.find(i), [...(groups.get(joined.find(i)) ?? []), i]))
  const round = [...groups.values()].map((list): RoundRegion => {
    const all = list.flatMap((i) => [...regions[i].facets!, ...(more.get(i) ?? [])])
    const first = list.reduce((a, b) => (regions[b].facets!.length > regions[a].facets!.length ? b : a))
    return { shape: regions[first].shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) }
  })
  return { round, flat: left }
}
