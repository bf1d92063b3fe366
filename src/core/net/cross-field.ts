/**
 * A field of crosses over the triangles of a mesh: as smooth as it can be, along creases where there are any, and drawn to the ways in which
 * the skin bends most and least (Knöppel, Crane, Pinkall & Schröder 2013, solved with alignment; curvature after Rusinkiewicz 2004).
 */
import { cross } from '@/core/math/vec'
import { SparseFactor, SparseSum } from '@/core/math/sparse-cholesky'
import { nextIn, prevIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { middleOf } from '@/core/mesh/triangle'
import { vertexNormals } from '@/core/mesh/vertex-normals'

/** Frames of triangles: the first axis runs along the first edge, the second is square to it in the plane. */
export interface Frames {
  /** x y z of the first axis, of the second, unit, for each triangle. */
  readonly first: Float64Array
  readonly second: Float64Array
  /** Angle of each half-edge in its own triangle's frame. */
  readonly angle: Float64Array
}

export interface CrossField {
  readonly frames: Frames
  /** Frames of the calmed skin, over which crosses are carried from triangle to triangle. */
  readonly calm: Frames
  /** Angle of one arm of each triangle's cross in its frame. */
  readonly angle: Float64Array
  /** How strongly the skin bends at each triangle, over some rings and not across creases, 1/mm. */
  readonly bend: Float64Array
}

function framesOf(mesh: TriMesh): Frames {
  const n = triangleCount(mesh)
  const { positions: p, triangles: k } = mesh
  const first = new Float64Array(3 * n)
  const second = new Float64Array(3 * n)
  const angle = new Float64Array(3 * n)
  const e = (h: number, a: number) => p[3 * k[nextIn(h)] + a] - p[3 * k[h] + a]
  for (let t = 0; t < n; t++) {
    const x = [0, 1, 2].map((a) => e(3 * t, a))
    const l = Math.hypot(...x) || 1e-300
    const u = x.map((v) => v / l)
    const w = [0, 1, 2].map((a) => e(3 * t + 1, a))
    const along = u[0] * w[0] + u[1] * w[1] + u[2] * w[2]
    const y = w.map((v, a) => v - along * u[a])
    const m = Math.hypot(...y) || 1e-300
    for (let a = 0; a < 3; a++) {
      first[3 * t + a] = u[a]
      second[3 * t + a] = y[a] / m
    }
    for (let c = 0; c < 3; c++) {
      const d = [0, 1, 2].map((a) => e(3 * t + c, a))
      angle[3 * t + c] = Math.atan2(
        (d[0] * y[0] + d[1] * y[1] + d[2] * y[2]) / m,
        d[0] * u[0] + d[1] * u[1] + d[2] * u[2],
      )
    }
  }
  return { first, second, angle }
}

/** What an angle in the triangle of half-edge h grows by in the frame of the triangle across it. */
export const turnAcross = (frames: Frames, twin: Int32Array, h: number): number =>
  frames.angle[twin[h]] + Math.PI - frames.angle[h]

/**
 * How the skin of each triangle bends, without its mean: (k1 - k2) / 2 times e^(2 i phi), phi the way in which it bends most, in the frame;
 * and its mean bend. 1/mm.
 */
function bendsOf(mesh: TriMesh, frames: Frames): { re: Float64Array; im: Float64Array; mean: Float64Array } {
  const n = triangleCount(mesh)
  const normals = vertexNormals(mesh)
  const { positions: p, triangles: k } = mesh
  const re = new Float64Array(n)
  const im = new Float64Array(n)
  const mean = new Float64Array(n)
  for (let t = 0; t < n; t++) {
    // Three edges, two figures each, for the three figures of the second form: least squares.
    const m = [0, 0, 0, 0, 0, 0]
    const r = [0, 0, 0]
    for (let c = 0; c < 3; c++) {
      const [a, b] = [k[3 * t + c], k[3 * t + ((c + 1) % 3)]]
      let [x, y, nx, ny] = [0, 0, 0, 0]
      for (let j = 0; j < 3; j++) {
        const d = p[3 * b + j] - p[3 * a + j]
        const g = normals[3 * b + j] - normals[3 * a + j]
        x += d * frames.first[3 * t + j]
        y += d * frames.second[3 * t + j]
        nx += g * frames.first[3 * t + j]
        ny += g * frames.second[3 * t + j]
      }
      // e x + f y = nx, f x + g y = ny
      m[0] += x * x
      m[1] += x * y
      m[3] += x * x + y * y
      m[4] += x * y
      m[5] += y * y
      r[0] += x * nx
      r[1] += y * nx + x * ny
      r[2] += y * ny
    }
    const [e, f, g] = solve3(m, r)
    re[t] = (e - g) / 2
    im[t] = f
    mean[t] = (e + g) / 2
  }
  return { re, im, mean }
}

/** The symmetric system of three by Cramer's rule: entries 00, 01, 02, 11, 12, 22. */
function solve3([a, b, c, d, e, f]: readonly number[], [x, y, z]: readonly number[]): [number, number, number] {
  const det = a * (d * f - e * e) - b * (b * f - c * e) + c * (b * e - c * d)
  if (!(Math.abs(det) > 1e-300)) return [0, 0, 0]
  return [
    (x * (d * f - e * e) - b * (y * f - e * z) + c * (y * e - d * z)) / det,
    (a * (y * f - z * e) - x * (b * f - c * e) + c * (b * z - c * y)) / det,
    (a * (d * z - e * y) - b * (b * z - c * y) + x * (b * e - c * d)) / det,
  ]
}

export interface FieldChoice {
  /** 1 for half-edges that the field must run along. */
  readonly creases: Uint8Array
  /** How much the ways of bending count beside smoothness. */
  readonly bend: number
}

/** Along a crease a cross is as good as fixed. */
const creaseWeight = 1e3
const sweeps = 30
/**
 * Crosses are carried over a skin that was smoothed in so many rounds: small bumps and dents, which bend more than a quad could follow, would
 * each ask for irregular points of their own.
 */
const calmRounds = 8
/** Bends are taken from so many rings about a triangle, for noise. */
const bendRounds = 4

export function crossField(mesh: TriMesh, topology: Topology, { creases, bend }: FieldChoice): CrossField {
  const n = triangleCount(mesh)
  const { twin } = topology
  const frames = framesOf(mesh)
  const weight = new Float64Array(n)
  const [re, im] = [new Float64Array(n), new Float64Array(n)]
  const b = bendsOf(mesh, frames)
  // Normals at a crease are means over it, and tell no bend.
  const atCrease = new Uint8Array(mesh.positions.length / 3)
  for (let h = 0; h < 3 * n; h++) if (creases[h]) atCrease[mesh.triangles[h]] = atCrease[mesh.triangles[nextIn(h)]] = 1
  for (let t = 0; t < n; t++)
    if ([0, 1, 2].some((c) => atCrease[mesh.triangles[3 * t + c]])) b.re[t] = b.im[t] = b.mean[t] = 0
  // Means of neighbours, carried over into each frame: as complex numbers they turn twice as fast as the frame.
  for (let round = 0; round < bendRounds; round++) {
    const [nextRe, nextIm, nextMean] = [b.re.slice(), b.im.slice(), b.mean.slice()]
    for (let h = 0; h < 3 * n; h++) {
      if (twin[h] < 0 || creases[h]) continue
      const [t, u] = [triangleOf(h), triangleOf(twin[h])]
      const a = 2 * turnAcross(frames, twin, twin[h])
      nextRe[t] += b.re[u] * Math.cos(a) - b.im[u] * Math.sin(a)
      nextIm[t] += b.re[u] * Math.sin(a) + b.im[u] * Math.cos(a)
      nextMean[t] += b.mean[u]
    }
    for (let t = 0; t < n; t++) {
      let count = 1
      for (let h = 3 * t; h < 3 * t + 3; h++) if (twin[h] >= 0 && !creases[h]) count++
      b.re[t] = nextRe[t] / count
      b.im[t] = nextIm[t] / count
      b.mean[t] = nextMean[t] / count
    }
  }
  for (let t = 0; t < n; t++) {
    let longest = 0
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      if (!creases[h]) continue
      const l = lengthOf(mesh, h)
      if (l <= longest) continue
      longest = l
      re[t] = Math.cos(4 * frames.angle[h])
      im[t] = Math.sin(4 * frames.angle[h])
      weight[t] = creaseWeight
    }
    if (longest) continue
    const size = Math.hypot(b.re[t], b.im[t])
    if (!(size > 0)) continue
    // Where it bends one way only the way is told; where it bends all round it is not.
    const told = size / (size + Math.abs(b.mean[t]) + 1e-300)
    const turn = size * lengthOf(mesh, 3 * t)
    weight[t] = bend * told * told * Math.min(1, turn / leastTurn)
    const phi = 2 * Math.atan2(b.im[t], b.re[t])
    re[t] = Math.cos(phi)
    im[t] = Math.sin(phi)
  }
  const calm = framesOf(calmed(mesh, topology, creases))
  const [x, y] = smoothest(mesh, twin, calm, weight, re, im)
  const angle = new Float64Array(n)
  for (let t = 0; t < n; t++) angle[t] = Math.atan2(y[t], x[t]) / 4
  return { frames, calm, angle, bend: b.re.map((x, t) => Math.hypot(x, b.im[t]) + Math.abs(b.mean[t])) }
}

/** A triangle's skin turns by so much, radians, before its way of bending counts in full. */
const leastTurn = 0.03

/** A skin of the same triangles from which bends of about a quad's edge are smoothed away; creases and rims stay. */
function calmed({ positions, triangles: k }: TriMesh, { twin }: Topology, creases: Uint8Array): TriMesh {
  const n = positions.length / 3
  const from = Float64Array.from(positions)
  const stays = new Uint8Array(n)
  const valence = new Float64Array(n)
  for (let h = 0; h < k.length; h++) {
    valence[k[h]]++
    if (creases[h] || twin[h] < 0) stays[k[h]] = stays[k[nextIn(h)]] = 1
  }
  const sum = new Float64Array(3 * n)
  for (let round = 0; round < calmRounds; round++) {
    sum.fill(0)
    for (let h = 0; h < k.length; h++) for (let j = 0; j < 3; j++) sum[3 * k[h] + j] += from[3 * k[nextIn(h)] + j]
    for (let v = 0; v < n; v++)
      for (let j = 3 * v; j < 3 * v + 3; j++) if (!stays[v] && valence[v]) from[j] = (from[j] + sum[j] / valence[v]) / 2
  }
  return { positions: from as unknown as Float32Array, triangles: k }
}

const lengthOf = ({ positions: p, triangles: k }: TriMesh, h: number): number => {
  const [a, b] = [3 * k[h], 3 * k[nextIn(h)]]
  return Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
}

/** Cotangent of the corner across a half-edge. */
export function cotangent({ positions: p, triangles: k }: TriMesh, h: number): number {
  const [a, b, c] = [3 * k[h], 3 * k[nextIn(h)], 3 * k[prevIn(h)]]
  let dot = 0
  const u: [number, number, number] = [0, 0, 0]
  const v: [number, number, number] = [0, 0, 0]
  for (let j = 0; j < 3; j++) {
    u[j] = p[a + j] - p[c + j]
    v[j] = p[b + j] - p[c + j]
    dot += u[j] * v[j]
  }
  const area = Math.hypot(...cross(u, v))
  return dot / Math.max(area, 1e-300)
}

function smoothest(
  mesh: TriMesh,
  twin: Int32Array,
  frames: Frames,
  weight: Float64Array,
  re: Float64Array,
  im: Float64Array,
): [Float64Array, Float64Array] {
  const n = weight.length
  const sum = new SparseSum(2 * n)
  const right = new Float64Array(2 * n)
  const places = new Float64Array(6 * n)
  // Where nothing draws it anywhere, one cross does.
  const drawn = weight.some((w) => w > 1e-6)
  for (let t = 0; t < n; t++) {
    const w = drawn ? weight[t] + 1e-8 : t === 0 ? 1 : 1e-8
    const [qx, qy] = drawn ? [re[t], im[t]] : [1, 0]
    for (let c = 0; c < 2; c++) {
      sum.add(2 * t + c, 2 * t + c, w)
      right[2 * t + c] = w * (c ? qy : qx)
      places.set(middleOf(mesh, t), 6 * t + 3 * c)
    }
  }
  const links: { t: number; u: number; c: number; s: number }[] = []
  for (let h = 0; h < 3 * n; h++) {
    if (twin[h] < h) continue
    const [t, u] = [triangleOf(h), triangleOf(twin[h])]
    const a = 4 * turnAcross(frames, twin, h)
    const [c, s] = [Math.cos(a), Math.sin(a)]
    links.push({ t, u, c, s })
    for (let k = 0; k < 2; k++) {
      sum.add(2 * t + k, 2 * t + k, 1)
      sum.add(2 * u + k, 2 * u + k, 1)
    }
    sum.add(2 * u, 2 * t, -c)
    sum.add(2 * u, 2 * t + 1, s)
    sum.add(2 * u + 1, 2 * t, -s)
    sum.add(2 * u + 1, 2 * t + 1, -c)
  }
  const factor = SparseFactor.of(sum, places)
  const z = factor ? factor.solve(right) : right
  const [x, y] = [new Float64Array(n), new Float64Array(n)]
  const set = (t: number, a: number, b: number) => {
    const l = Math.hypot(a, b)
    ;[x[t], y[t]] = l > 0 ? [a / l, b / l] : [1, 0]
  }
  for (let t = 0; t < n; t++) set(t, z[2 * t], z[2 * t + 1])
  // Unit crosses, each the mean of its neighbours: what the linear way lets fade is evened out.
  const ties: number[][] = Array.from({ length: n }, () => [])
  links.forEach(({ t, u }, i) => {
    ties[t].push(i)
    ties[u].push(i)
  })
  for (let sweep = 0; sweep < sweeps; sweep++)
    for (let i = 0; i < n; i++) {
      const t = sweep % 2 ? n - 1 - i : i
      let a = weight[t] * re[t]
      let b = weight[t] * im[t]
      for (const l of ties[t]) {
        const { t: from, u, c, s } = links[l]
        if (from === t) {
          a += c * x[u] + s * y[u]
          b += c * y[u] - s * x[u]
        } else {
          a += c * x[from] - s * y[from]
          b += s * x[from] + c * y[from]
        }
      }
      if (Math.hypot(a, b) > 1e-9) set(t, a, b)
    }
  return [x, y]
}
