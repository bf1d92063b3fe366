/** Best-fit registration of one mesh on another: point-to-plane iteration with trimmed matches (Chen & Medioni 1992; Chetverikov et al. 2002). */
import { about, applyPoint, compose, identity, rotation, translation, type Affine } from '@/core/math/affine'
import { jacobiEigen, symmetricEigen } from '@/core/math/eigen'
import { solveDense } from '@/core/math/least-squares'
import { cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { NearestInGrid } from '@/core/mesh/nearest'
import { meshArea } from '@/core/mesh/measures'
import { diagonal, meshBounds, triangleCount, type TriMesh, vertex } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface Pair {
  readonly from: Vec3
  readonly to: Vec3
}

/** The turn and move that bring `from` points to `to` points with the least squares (Horn 1987, unit quaternions). At least three pairs not in line. */
export function rigidFit(pairs: readonly Pair[]): Affine {
  if (pairs.length < 3)
    throw new StepError(
      'few-pairs',
      `${pairs.length} ${pairs.length === 1 ? 'pair is' : 'pairs are'} picked; three are needed.`,
      { tryThis: 'Pick three places on each body.' },
    )
  const mean = (pick: (p: Pair) => Vec3): Vec3 =>
    [0, 1, 2].map((k) => pairs.reduce((s, p) => s + pick(p)[k], 0) / pairs.length) as unknown as Vec3
  const a = mean((p) => p.from),
    b = mean((p) => p.to)
  const spread = pairs.map((p) => sub(p.from, a))
  const flat = Math.max(...spread.map((u, i) => Math.hypot(...cross(u, spread[(i + 1) % spread.length]))))
  if (!(flat > 1e-9))
    throw new StepError('in-line', 'The picked points lie in one line, so the turn about it is open.', {
      tryThis: 'Pick three points that span a triangle.',
    })
  const m = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => pairs.reduce((s, p) => s + (p.from[i] - a[i]) * (p.to[j] - b[j]), 0)),
  )
  const n = [
    [m[0][0] + m[1][1] + m[2][2], m[1][2] - m[2][1], m[2][0] - m[0][2], m[0][1] - m[1][0]],
    [0, m[0][0] - m[1][1] - m[2][2], m[0][1] + m[1][0], m[2][0] + m[0][2]],
    [0, 0, -m[0][0] + m[1][1] - m[2][2], m[1][2] + m[2][1]],
    [0, 0, 0, -m[0][0] - m[1][1] + m[2][2]],
  ]
  for (let i = 0; i < 4; i++) for (let j = 0; j < i; j++) n[i][j] = n[j][i]
  const q = largestEigenvector(n)
  const [w, x, y, z] = q
  const r: Affine = [
    w * w + x * x - y * y - z * z,
    2 * (x * y - w * z),
    2 * (x * z + w * y),
    0,
    2 * (x * y + w * z),
    w * w - x * x + y * y - z * z,
    2 * (y * z - w * x),
    0,
    2 * (x * z - w * y),
    2 * (y * z + w * x),
    w * w - x * x - y * y + z * z,
    0,
  ]
  return compose(translation(b), compose(r, translation([-a[0], -a[1], -a[2]])))
}

/** Unit eigenvector of the largest eigenvalue of a symmetric matrix. */
function largestEigenvector(matrix: number[][]): number[] {
  const { values, vectors } = jacobiEigen(matrix)
  let best = 0
  for (let i = 1; i < values.length; i++) if (values[i] > values[best]) best = i
  return vectors.map((row) => row[best])
}

/** Area-weighted middle and principal directions of a skin. */
function principal(mesh: TriMesh): { centre: Vec3; axes: [Vec3, Vec3, Vec3] } {
  let total = 0
  const c = [0, 0, 0]
  const each = (visit: (m: Vec3, w: number) => void) => {
    for (let t = 0; t < triangleCount(mesh); t++) {
      const w = triangleArea(mesh, t)
      const [p, q, r] = [0, 1, 2].map((k) => vertex(mesh, mesh.triangles[3 * t + k]))
      visit([(p[0] + q[0] + r[0]) / 3, (p[1] + q[1] + r[1]) / 3, (p[2] + q[2] + r[2]) / 3], w)
    }
  }
  each((m, w) => {
    total += w
    for (let k = 0; k < 3; k++) c[k] += w * m[k]
  })
  const centre: Vec3 = [c[0] / total, c[1] / total, c[2] / total]
  const s = [0, 0, 0, 0, 0, 0]
  each((m, w) => {
    const d = sub(m, centre)
    s[0] += w * d[0] * d[0]
    s[1] += w * d[0] * d[1]
    s[2] += w * d[0] * d[2]
    s[3] += w * d[1] * d[1]
    s[4] += w * d[1] * d[2]
    s[5] += w * d[2] * d[2]
  })
  return { centre, axes: symmetricEigen(s).vectors }
}

export interface MatchChoice {
  /** Where to start: as it stands, by principal axes, or by picked pairs. */
  readonly start: 'as-is' | 'axes' | 'pairs'
  readonly pairs?: readonly Pair[]
  /** Share of the matches to trust, 0 to 1: the rest, furthest first, is left out. */
  readonly trust: number
  readonly iterations?: number
}

export interface Matched {
  readonly map: Affine
  /** Root mean square distance of the trusted samples, mm, as they stood, after the start, and in the end. */
  readonly rmsBefore: number
  readonly rmsStart: number
  readonly rms: number
  readonly iterations: number
}

/** Points of a mesh spread evenly over it by area, with normals: at most `count`. */
function spreadSamples(mesh: TriMesh, count: number): { points: Vec3[]; normals: Vec3[] } {
  const n = triangleCount(mesh)
  const area = meshArea(mesh)
  const step = area / count
  const points: Vec3[] = [],
    normals: Vec3[] = []
  let run = step / 2
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh, t)
    const w = Math.hypot(...c) / 2
    let i = 0
    while (run <= w && w > 0) {
      let u = (0.5 + i * 0.7548776662) % 1,
        v = (0.5 + i * 0.5698402909) % 1
      if (u + v > 1) {
        u = 1 - u
        v = 1 - v
      }
      i++
      const [p, q, r] = [0, 1, 2].map((k) => vertex(mesh, mesh.triangles[3 * t + k]))
      points.push([0, 1, 2].map((k) => p[k] + u * (q[k] - p[k]) + v * (r[k] - p[k])) as unknown as Vec3)
      normals.push(normalize(c))
      run += step
    }
    run -= w
  }
  return { points, normals }
}

interface Row {
  readonly p: Vec3
  /** The nearest place of the still body, its normal there, and the squared distance. */
  readonly q: Vec3
  readonly n: Vec3
  readonly d: number
}

/** One match on its way: samples of the moving body against the still one. */
class Matching {
  private readonly nearest: NearestInGrid
  readonly samples: ReturnType<typeof spreadSamples>
  readonly scale: number
  constructor(
    moving: TriMesh,
    private readonly still: TriMesh,
    private readonly trust: number,
    private readonly work: Work,
  ) {
    this.nearest = new NearestInGrid(still)
    this.samples = spreadSamples(moving, 4000)
    this.scale = diagonal(meshBounds(still))
  }

  /** Root mean square of the share of distances that is trusted, mm. */
  rmsOf(map: Affine): number {
    const { nearest } = this
    const d = this.samples.points
      .map((p) => {
        const q = applyPoint(map, p)
        return nearest.square(q[0], q[1], q[2])
      })
      .sort((a, b) => a - b)
    const n = Math.max(1, Math.floor(this.trust * d.length))
    return Math.sqrt(d.slice(0, n).reduce((s, v) => s + v, 0) / n)
  }

  /** Samples with the places they belong to, the nearest share of them. */
  private rows(map: Affine, stride: number): Row[] {
    const { samples, nearest } = this
    const unit = (t: number): Vec3 => normalize(crossOf(this.still, t))
    const rows: Row[] = []
    for (let i = 0; i < samples.points.length; i += stride) {
      const p = applyPoint(map, samples.points[i])
      const d = nearest.square(p[0], p[1], p[2])
      if (nearest.triangle < 0) continue
      const n = unit(nearest.triangle)
      const m = sub(
        applyPoint(map, [
          samples.points[i][0] + samples.normals[i][0],
          samples.points[i][1] + samples.normals[i][1],
          samples.points[i][2] + samples.normals[i][2],
        ]),
        p,
      )
      if (dot(n, m) < 0.3) continue // faces the other way: not its place
      rows.push({ p, q: [nearest.x, nearest.y, nearest.z], n, d })
    }
    rows.sort((a, b) => a.d - b.d)
    rows.length = Math.max(Math.min(rows.length, 6), Math.floor(this.trust * rows.length))
    return rows
  }

  /** The step that brings places to the planes they belong to (Chen & Medioni 1992); how far it turns, radians, and the rms before it. */
  private step(rows: readonly Row[]): { step: Affine; angle: number; rms: number } | null {
    const { scale } = this
    const c: Vec3 = [0, 1, 2].map((k) => rows.reduce((s, r) => s + r.p[k], 0) / rows.length) as unknown as Vec3
    const a = Array.from({ length: 6 }, () => new Array<number>(6).fill(0)),
      b = new Array<number>(6).fill(0)
    let sum = 0
    for (const { p, q, n } of rows) {
      const w = cross(sub(p, c), n)
      const row = [w[0], w[1], w[2], n[0], n[1], n[2]]
      const r = dot(sub(q, p), n)
      sum += r * r
      for (let i = 0; i < 6; i++) {
        b[i] += row[i] * r
        for (let j = 0; j < 6; j++) a[i][j] += row[i] * row[j]
      }
    }
    // Bodies of revolution leave a turn open: a whisper of damping holds it.
    for (let i = 0; i < 6; i++) a[i][i] += 1e-7 * rows.length * (i < 3 ? scale * scale : 1)
    const x = solveDense(a, b)
    if (!x) return null
    const angle = Math.hypot(x[0], x[1], x[2])
    const step = compose(
      translation([x[3], x[4], x[5]]),
      angle > 1e-14 ? about(c, rotation([x[0], x[1], x[2]], (angle * 180) / Math.PI)) : identity,
    )
    return { step, angle, rms: Math.sqrt(sum / rows.length) }
  }

  /** One start refined; fewer samples for a first look. */
  run(start: Affine, rounds: number, stride: number): { map: Affine; rms: number; rounds: number } {
    const { scale } = this
    let map = start
    let last = Infinity,
      used = 0
    for (let round = 0; round < rounds; round++) {
      checkStop(this.work)
      used = round + 1
      const rows = this.rows(map, stride)
      const next = rows.length < 6 ? null : this.step(rows)
      if (!next) break
      map = compose(next.step, map)
      if (Math.abs(last - next.rms) < 1e-6 * scale * 1e-2 && next.angle * scale < 1e-6 * scale) break
      last = next.rms
    }
    return { map, rms: this.rmsOf(map), rounds: used }
  }
}

/** The best of all starts that lay the principal axes on each other: they have no sign, and near-equal ones no order. */
function startByAxes(moving: TriMesh, still: TriMesh, matching: Matching, work: Work): Affine {
  let start: Affine = identity
  const a = principal(moving),
    b = principal(still)
  let best = Infinity
  const orders = [
    [0, 1, 2],
    [0, 2, 1],
    [1, 0, 2],
    [1, 2, 0],
    [2, 0, 1],
    [2, 1, 0],
  ]
  let tried = 0
  for (const order of orders)
    for (const [sx, sy] of [
      [1, 1],
      [1, -1],
      [-1, 1],
      [-1, -1],
    ]) {
      work.progress((0.6 * tried++) / 24, 'trying starts')
      const ex = b.axes[order[0]].map((v) => sx * v) as unknown as Vec3,
        ey = b.axes[order[1]].map((v) => sy * v) as unknown as Vec3
      const ez = cross(ex, ey),
        az = cross(a.axes[0], a.axes[1])
      const r: number[] = []
      for (let i = 0; i < 3; i++) {
        for (let j = 0; j < 3; j++) r.push(ex[i] * a.axes[0][j] + ey[i] * a.axes[1][j] + ez[i] * az[j])
        r.push(0)
      }
      const map = compose(translation(b.centre), compose(r, translation([-a.centre[0], -a.centre[1], -a.centre[2]])))
      const out = matching.run(map, 8, 10)
      if (out.rms < best) {
        best = out.rms
        start = out.map
      }
    }
  return start
}

/** Finds the turn and move that lay `moving` on `still`. */
export function matchToBody(moving: TriMesh, still: TriMesh, choice: MatchChoice, work: Work = quiet): Matched {
  const matching = new Matching(moving, still, choice.trust, work)
  if (matching.samples.points.length < 6) throw new StepError('empty', 'The body to match has no skin to speak of.')
  const rmsBefore = matching.rmsOf(identity)
  const start =
    choice.start === 'pairs'
      ? rigidFit(choice.pairs ?? [])
      : choice.start === 'axes'
        ? startByAxes(moving, still, matching, work)
        : identity
  work.progress(0.6, 'matching')
  const rmsStart = matching.rmsOf(start)
  const out = matching.run(start, choice.iterations ?? 60, 1)
  return { map: out.map, rmsBefore, rmsStart, rms: out.rms, iterations: out.rounds }
}
