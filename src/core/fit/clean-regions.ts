/**
 * Surfaces of a drawn part from its facets: corners of clean tessellations lie on the surfaces themselves, facets of one round wall are
 * alike and turn by like angles, and what is flat is one facet however many triangles it is cut into.
 */
import { dot, length, type Vec3 } from '@/core/math/vec'
import type { Topology } from '@/core/mesh/topology'
import { triangleOf } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleArea, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { checkStop, type Work } from '@/core/base/work'
import { fitKind, type Fitted } from './fit-shape'
import { samplesOf } from './samples'
import { normalOf, offShape, type ShapeKind } from './shape'

interface Field {
  readonly mesh: TriMesh
  readonly topology: Topology
  readonly normals: Float32Array
}

/** Triangles in one plane that hang together. */
interface Facet {
  readonly triangles: number[]
  readonly area: number
  readonly normal: Vec3
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

function facetsOf({ mesh, topology, normals }: Field): { facets: Facet[]; of: Int32Array } {
  const n = triangleCount(mesh)
  const of = new Int32Array(n).fill(-1)
  const cosine = Math.cos(flatTurn)
  const normal = (t: number): Vec3 => [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
  const facets: Facet[] = []
  for (let s = 0; s < n; s++) {
    if (of[s] >= 0) continue
    const list = [s]
    of[s] = facets.length
    let area = 0
    const own = normal(s)
    for (const t of list) {
      area += triangleArea(mesh, t)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w < 0) continue
        const u = triangleOf(w)
        // Against the first one too, so that a fine wall does not creep round.
        if (of[u] < 0 && dot(normal(u), normal(t)) > cosine && dot(normal(u), own) > cosine) {
          of[u] = of[s]
          list.push(u)
        }
      }
    }
    facets.push({ triangles: list, area, normal: own, beside: new Map() })
  }
  for (let h = 0; h < 3 * n; h++) {
    const w = topology.twin[h]
    if (w < 0) continue
    const [a, b] = [of[triangleOf(h)], of[triangleOf(w)]]
    if (a === b) continue
    facets[a].beside.set(b, Math.acos(Math.max(-1, Math.min(1, dot(facets[a].normal, facets[b].normal)))))
  }
  return { facets, of }
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
function on(f: Field, facet: Facet, shape: Fitted, within: number): boolean {
  for (const t of facet.triangles)
    for (let c = 0; c < 3; c++)
      if (Math.abs(offShape(shape, vertex(f.mesh, f.mesh.triangles[3 * t + c]))) > within) return false
  const n = normalOf(shape, centreOf(f.mesh, facet.triangles))
  return dot(n, facet.normal) * (shape.inside ? -1 : 1) > 0.95 && length(n) > 0.5
}

const round: readonly ShapeKind[] = ['cylinder', 'cone', 'sphere', 'ring']

/** Round shapes through some facets, all of whose corners lie on them. */
function through(f: Field, chosen: readonly Facet[], within: number, size: number, kinds = round): Fitted[] {
  const flags = new Uint8Array(triangleCount(f.mesh))
  for (const c of chosen) for (const t of c.triangles) flags[t] = 1
  const samples = samplesOf(f.mesh, flags)
  return kinds.flatMap((kind): Fitted[] => {
    try {
      const fit = fitKind(kind, samples, {}, 0)
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
  readonly shape: Fitted
  readonly facets?: readonly number[]
  readonly triangles: number[]
}

/** Starts from one facet. */
const mostTries = 8

/** So many starts that end nowhere tell that this is no clean tessellation after all: its corners do not lie on surfaces. */
const mostFailures = 60

/** Regions of a clean tessellation: round walls first, what is left is flat. Null where it turns out to be none. */
export function cleanRegions(f: Field, within: number, work: Work): CleanRegion[] | null {
  const size = diagonal(meshBounds(f.mesh)) || 1
  const { facets } = facetsOf(f)
  const taken = new Int8Array(facets.length)
  const out: CleanRegion[] = []
  const order = [...facets.keys()].sort((a, b) => facets[b].area - facets[a].area || a - b)
  let done = 0
  let failures = 0
  for (const seed of order) {
    done++
    if (taken[seed]) continue
    checkStop(work)
    work.progress((0.9 * done) / facets.length, `${out.length} regions`)
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
    let most = 0
    for (const some of tries.slice(0, mostTries)) {
      if (region && region.length >= enoughFacets) break
      const chosen = some.map((k) => facets[k])
      for (const first of through(f, chosen, within, size)) {
        let now = first
        let list = spread(f, facets, taken, some, now, within)
        // What has grown tells the shape better: once more from there.
        const [better] =
          list.length > some.length
            ? through(f, list.slice(0, 400).map((k) => facets[k]), within, size, [now.kind]) // prettier-ignore
            : []
        if (better) {
          now = better
          list = spread(f, facets, taken, some, now, within)
        }
        const area = list.reduce((sum, k) => sum + facets[k].area, 0)
        // The simpler of two that explain as much: kinds come in that order.
        if (list.length < leastFacets || area <= most * 1.001) continue
        most = area
        region = list
        shape = now
      }
    }
    if (tries.length && !region && ++failures > mostFailures) return null
    if (region && shape) {
      for (const k of region) taken[k] = 1
      out.push({ shape, facets: region, triangles: region.flatMap((k) => facets[k].triangles) })
    }
  }
  const bands = joinBands(f, facets, out, within, size)
  const flat = [...facets.keys()].filter((k) => !taken[k])
  const left = joinRims(f, facets, bands, flat, within)
  return [
    ...left.round,
    ...left.flat.flatMap((k): CleanRegion[] => {
      const flags = new Uint8Array(triangleCount(f.mesh))
      for (const t of facets[k].triangles) flags[t] = 1
      try {
        return [{ shape: fitKind('plane', samplesOf(f.mesh, flags), {}, 0), triangles: facets[k].triangles }]
      } catch (error) {
        if (!(error instanceof StepError)) throw error
        return []
      }
    }),
  ]
}

/** All facets reached from some that lie on a shape. */
function spread(
  f: Field,
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
  f: Field,
  facets: readonly Facet[],
  regions: readonly CleanRegion[],
  within: number,
  size: number,
): CleanRegion[] {
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
  const out: CleanRegion[] = []
  const some = (r: CleanRegion) => {
    const step = Math.max(1, Math.ceil(r.facets!.length / 60))
    return r.facets!.filter((_, i) => i % step === 0).map((k) => facets[k])
  }
  const lies = (r: CleanRegion, shape: Fitted) => r.facets!.every((k) => on(f, facets[k], shape, within))
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
    if (!best) continue
    for (const b of best.list) gone.add(b)
    const all = best.list.flatMap((b) => regions[b].facets!)
    out.push({ shape: best.shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) })
  }
  return [...regions.filter((_, i) => !gone.has(i)), ...out]
}

/** Flat bands that lie on the round region beside them go to it, as at the top of a ring; round regions that meet so are one. */
function joinRims(
  f: Field,
  facets: readonly Facet[],
  regions: readonly CleanRegion[],
  flat: readonly number[],
  within: number,
): { round: CleanRegion[]; flat: number[] } {
  const of = new Map<number, number>()
  regions.forEach((r, i) => {
    for (const k of r.facets!) of.set(k, i)
  })
  const to = regions.map((_, i) => i)
  const root = (i: number): number => (to[i] === i ? i : (to[i] = root(to[i])))
  const more = new Map<number, number[]>()
  const rest: number[] = []
  const bandOn = (k: number, shape: Fitted) =>
    facets[k].triangles.every((t) => {
      const c = [0, 1, 2].map((i) => vertex(f.mesh, f.mesh.triangles[3 * t + i]))
      if (c.some((p) => Math.abs(offShape(shape, p)) > within)) return false
      return dot(normalOf(shape, centreOf(f.mesh, [t])), facets[k].normal) * (shape.inside ? -1 : 1) > 0.9
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
      if (root(r) !== root(mine) && regions[r].facets!.every((j) => on(f, facets[j], regions[mine].shape, 4 * within)))
        to[root(r)] = root(mine)
  }
  const groups = new Map<number, number[]>()
  regions.forEach((_, i) => groups.set(root(i), [...(groups.get(root(i)) ?? []), i]))
  const round = [...groups.values()].map((list): CleanRegion => {
    const all = list.flatMap((i) => [...regions[i].facets!, ...(more.get(i) ?? [])])
    const first = list.reduce((a, b) => (regions[b].facets!.length > regions[a].facets!.length ? b : a))
    return { shape: regions[first].shape, facets: all, triangles: all.flatMap((k) => facets[k].triangles) }
  })
  return { round, flat: rest }
}
