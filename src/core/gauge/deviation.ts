/** How far one mesh lies from another: signed, weighted by area, both ways. */
import { crossInto } from '@/core/mesh/triangle'
import { NearestInGrid, type Nearest } from '@/core/mesh/nearest'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { vertexNormals } from '@/core/mesh/vertex-normals'
import { checkStop, quiet, type Work } from '@/core/base/work'

/** What distances are measured to: the mesh with its search and normals, made once. */
export interface Reference {
  readonly mesh: TriMesh
  readonly nearest: Nearest
  /** Vertex normals; without them signs follow the triangle at the foot, which at sharp edges may err. */
  readonly normals: Float32Array | null
}

export const referenceOf = (mesh: TriMesh): Reference => ({
  mesh,
  nearest: new NearestInGrid(mesh),
  normals: vertexNormals(mesh),
})
/** A reference for figures that need no sign at edges; quicker to make. */
export const plainReferenceOf = (mesh: TriMesh): Reference => ({
  mesh,
  nearest: new NearestInGrid(mesh),
  normals: null,
})

/** Cross product of the triangle at hand; nothing is made for each. */
const across = new Float64Array(3)

/** Signed distance of a point from a reference, mm; positive outside. Infinity when nothing lies within `within`. */
export function signedDistance(r: Reference, x: number, y: number, z: number, within = Infinity): number {
  const n = r.nearest
  const d = Math.sqrt(n.square(x, y, z, within))
  if (n.triangle < 0) return Infinity
  // Normal at the foot, from the corners by their barycentric shares (areas opposite).
  const { positions: p, triangles: k } = r.mesh
  const t = 3 * n.triangle
  let nx = 0,
    ny = 0,
    nz = 0
  if (!r.normals) {
    crossInto(p, k, t / 3, across)
    ;[nx, ny, nz] = across
  } else
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[t + c],
        b = 3 * k[t + ((c + 1) % 3)],
        e = 3 * k[t + ((c + 2) % 3)]
      const ux = p[b] - n.x,
        uy = p[b + 1] - n.y,
        uz = p[b + 2] - n.z,
        vx = p[e] - n.x,
        vy = p[e + 1] - n.y,
        vz = p[e + 2] - n.z
      const w = Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2)
      nx += w * r.normals[o]
      ny += w * r.normals[o + 1]
      nz += w * r.normals[o + 2]
    }
  return (x - n.x) * nx + (y - n.y) * ny + (z - n.z) * nz < 0 ? -d : d
}

/** Signed distance of every vertex of a mesh from a reference, mm. */
export function vertexDeviation(mesh: TriMesh, to: Reference, work: Work = quiet): Float32Array {
  const p = mesh.positions
  const out = new Float32Array(p.length / 3)
  for (let v = 0; v < out.length; v++) {
    if ((v & 4095) === 0) {
      checkStop(work)
      work.progress(v / out.length, 'measuring')
    }
    out[v] = signedDistance(to, p[3 * v], p[3 * v + 1], p[3 * v + 2])
  }
  return out
}

export interface Samples {
  readonly distance: Float32Array
  readonly weight: Float32Array
}

/** Points of a triangle at which distances are taken when it is large, by barycentric shares in rings of a low-discrepancy sequence (Roberts 2018). */
function shares(i: number): [number, number] {
  let u = (0.5 + i * 0.7548776662466927) % 1,
    v = (0.5 + i * 0.5698402909980532) % 1
  if (u + v > 1) {
    u = 1 - u
    v = 1 - v
  }
  return [u, v]
}

/**
 * Signed distances from a mesh to a reference: at vertices, and inside triangles in proportion to their area, about `count` in all.
 * Weights are areas, mm².
 */
export function sampleDeviation(mesh: TriMesh, to: Reference, count = 100_000, work: Work = quiet): Samples {
  const { positions: p, triangles: k } = mesh
  const n = triangleCount(mesh)
  const vertices = p.length / 3
  const area = new Float64Array(n),
    vertexArea = new Float64Array(vertices)
  let total = 0
  for (let t = 0; t < n; t++) {
    area[t] = crossInto(p, k, t, across) / 2
    total += area[t]
  }
  const inside = Math.max(0, count - vertices)
  const per = total > 0 ? inside / total : 0
  const distance: number[] = [],
    weight: number[] = []
  for (let t = 0; t < n; t++) {
    const m = Math.floor(per * area[t] + 0.5)
    const share = area[t] / (m + 1)
    for (let c = 0; c < 3; c++) vertexArea[k[3 * t + c]] += share / 3
    if (!m) continue
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    for (let i = 1; i <= m; i++) {
      const [u, v] = shares(i)
      const w = 1 - u - v
      distance.push(
        signedDistance(
          to,
          w * p[a] + u * p[b] + v * p[c],
          w * p[a + 1] + u * p[b + 1] + v * p[c + 1],
          w * p[a + 2] + u * p[b + 2] + v * p[c + 2],
        ),
      )
      weight.push(share)
    }
    if ((t & 1023) === 0) checkStop(work)
  }
  // More vertices than asked for: every so many, in the order they come, which follows the surface.
  const step = Math.max(1, Math.floor(vertices / Math.max(1, count)))
  for (let v = 0; v < vertices; v += step) {
    if ((v & 4095) < step) {
      checkStop(work)
      work.progress(v / vertices, 'measuring')
    }
    if (!(vertexArea[v] > 0)) continue
    distance.push(signedDistance(to, p[3 * v], p[3 * v + 1], p[3 * v + 2]))
    weight.push(vertexArea[v] * step)
  }
  return { distance: Float32Array.from(distance), weight: Float32Array.from(weight) }
}

export interface DeviationFigures {
  /** Signed mean, mm; positive: the first lies outside the second. */
  readonly mean: number
  readonly rms: number
  /** Greatest distance either way, mm. */
  readonly max: number
  /** 95 % of the area lies nearer than this, mm. */
  readonly p95: number
  readonly least: number
  readonly most: number
  /** Share of the area within the tolerance, 0 to 1. */
  readonly within?: number
}

const tidy = (v: number) => Number(v.toFixed(6))

/** Mean, rms, 95 % and greatest distance by area, mm, and the share within a tolerance. */
export function figuresOf({ distance, weight }: Samples, tolerance?: number): DeviationFigures {
  let total = 0,
    sum = 0,
    square = 0,
    least = Infinity,
    most = -Infinity,
    inside = 0
  for (let i = 0; i < distance.length; i++) {
    const d = distance[i],
      w = weight[i]
    total += w
    sum += w * d
    square += w * d * d
    if (d < least) least = d
    if (d > most) most = d
    if (tolerance !== undefined && Math.abs(d) <= tolerance) inside += w
  }
  if (!(total > 0))
    return { mean: 0, rms: 0, max: 0, p95: 0, least: 0, most: 0, ...(tolerance === undefined ? {} : { within: 1 }) }
  // The 95 % mark from 8192 bins: finer than anyone reads it.
  const reach = Math.max(Math.abs(least), Math.abs(most))
  const bins = new Float64Array(8192)
  for (let i = 0; i < distance.length; i++)
    bins[reach > 0 ? Math.min(8191, Math.floor((8192 * Math.abs(distance[i])) / reach)) : 0] += weight[i]
  let run = 0,
    p95 = reach
  for (let b = 0; b < 8192; b++) {
    run += bins[b]
    if (run >= 0.95 * total) {
      p95 = ((b + 1) / 8192) * reach
      break
    }
  }
  return {
    mean: tidy(sum / total),
    rms: tidy(Math.sqrt(square / total)),
    max: tidy(Math.max(Math.abs(least), Math.abs(most))),
    p95: tidy(p95),
    least: tidy(least),
    most: tidy(most),
    ...(tolerance === undefined ? {} : { within: tidy(inside / total) }),
  }
}

export interface Histogram {
  readonly from: number
  readonly to: number
  /** Share of the area in each bin. */ readonly bins: number[]
}

/** Shares of the area by signed distance, from -reach to reach (mm). */
export function histogramOf({ distance, weight }: Samples, reach: number, bins = 41): Histogram {
  const out = new Array<number>(bins).fill(0)
  let total = 0
  for (let i = 0; i < distance.length; i++) {
    const b = Math.floor(((distance[i] + reach) / (2 * reach)) * bins)
    out[Math.max(0, Math.min(bins - 1, b))] += weight[i]
    total += weight[i]
  }
  return { from: tidy(-reach), to: tidy(reach), bins: out.map((v) => Number((total > 0 ? v / total : 0).toFixed(5))) }
}

const joined = (a: Samples, b: Samples): Samples => {
  const distance = new Float32Array(a.distance.length + b.distance.length),
    weight = new Float32Array(distance.length)
  distance.set(a.distance)
  distance.set(b.distance, a.distance.length)
  weight.set(a.weight)
  weight.set(b.weight, a.weight.length)
  return { distance, weight }
}

/** Share of the area further off than a distance, 0 to 1. */
export function shareBeyond({ distance, weight }: Samples, limit: number): number {
  let beyond = 0,
    total = 0
  for (let i = 0; i < distance.length; i++) {
    total += weight[i]
    if (!(Math.abs(distance[i]) <= limit)) beyond += weight[i]
  }
  return total > 0 ? beyond / total : 0
}

export interface TwoSided {
  /** The samples themselves: of the first against the second, and back. */
  readonly samples: { readonly there: Samples; readonly back: Samples }
  readonly there: DeviationFigures
  readonly back: DeviationFigures
  readonly both: DeviationFigures
  readonly histogram: Histogram
}

/** Distances both ways between two meshes; signs are those of the first against the second. */
export function deviation(
  first: TriMesh,
  second: TriMesh,
  {
    tolerance,
    samples = 100_000,
    toFirst,
    toSecond,
  }: { tolerance?: number; samples?: number; toFirst?: Reference; toSecond?: Reference } = {},
  work: Work = quiet,
): TwoSided {
  const there = sampleDeviation(first, toSecond ?? referenceOf(second), samples, {
    signal: work.signal,
    progress: (s, p) => work.progress(0.5 * s, p),
  })
  const raw = sampleDeviation(second, toFirst ?? referenceOf(first), samples, {
    signal: work.signal,
    progress: (s, p) => work.progress(0.5 + 0.5 * s, p),
  })
  const back = { distance: raw.distance.map((d) => -d), weight: raw.weight }
  const both = joined(there, back)
  const figures = figuresOf(both, tolerance)
  const reach = Math.max(tolerance === undefined ? 0 : 1.5 * tolerance, figures.p95 * 1.5, 1e-3 * figures.max, 1e-9)
  return {
    samples: { there, back },
    there: figuresOf(there, tolerance),
    back: figuresOf(back, tolerance),
    both: figures,
    histogram: histogramOf(both, reach),
  }
}
