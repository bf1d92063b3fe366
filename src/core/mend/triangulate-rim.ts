/** Spans a closed rim with triangles. */
import earcut, { deviation } from 'earcut'
import { cross, dot, frame, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { checkStop, quiet, type Work } from '@/core/base/work'

/** Above this many corners a rim is halved first, so that the cubic search stays quick. */
export const directLimit = 160

export interface RimContext {
  /** Normal of the triangle outside each rim edge i -> i + 1, or null at a bare edge. */
  readonly outside: readonly (Vec3 | null)[]
  /** Whether rim corners i and j are joined by an edge of the mesh already. */
  joined(i: number, j: number): boolean
}

/** Flat: ear cutting in the rim's best plane (library: earcut). Null when the rim does not lie flat enough to be cut that way. */
export function flatTriangulation(points: readonly Vec3[]): number[] | null {
  let normal: Vec3 = [0, 0, 0]
  points.forEach((a, i) => {
    const b = points[(i + 1) % points.length]
    normal = [
      normal[0] + (a[1] - b[1]) * (a[2] + b[2]),
      normal[1] + (a[2] - b[2]) * (a[0] + b[0]),
      normal[2] + (a[0] - b[0]) * (a[1] + b[1]),
    ]
  })
  if (length(normal) < 1e-20) return null
  const [x, y] = frame(normalize(normal))
  const o = points[0]
  const flat = points.flatMap((p) => [dot(sub(p, o), x), dot(sub(p, o), y)])
  const cut = earcut(flat)
  if (cut.length !== 3 * (points.length - 2) || deviation(flat, null, 2, cut) > 1e-6) return null
  // Ear cutting keeps the winding of the projection, so each triangle must run the rim's way.
  for (let i = 0; i < cut.length; i += 3) {
    const [a, b, c] = [cut[i], cut[i + 1], cut[i + 2]]
    const s =
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
      (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a])
    if (s < 0) [cut[i + 1], cut[i + 2]] = [cut[i + 2], cut[i + 1]]
  }
  return cut
}

/**
 * Least-weight triangulation of a closed rim (Barequet & Sharir 1995) with weight (greatest dihedral angle, area) compared in that
 * order (Liepa 2003). Edges that the mesh has already are avoided. Corner numbers, three by three, running the rim's way.
 */
export function leastWeightTriangulation(points: readonly Vec3[], context: RimContext, work: Work = quiet): number[] {
  const n = points.length
  if (n < 3) return []
  if (n === 3) return [0, 1, 2]
  if (n > directLimit) return halve(points, context, work)
  const angle = new Float64Array(n * n),
    area = new Float64Array(n * n)
  const via = new Int32Array(n * n).fill(-1)
  const normalOf = (i: number, j: number, k: number): [Vec3, number] => {
    const c = cross(sub(points[j], points[i]), sub(points[k], points[i]))
    const l = length(c)
    return [l > 0 ? [c[0] / l, c[1] / l, c[2] / l] : [0, 0, 0], l / 2]
  }
  const bend = (a: Vec3 | null, b: Vec3) => (a === null ? 0 : 1 - Math.max(-1, Math.min(1, dot(a, b))))
  const inner = (i: number, j: number): Vec3 | null =>
    j === i + 1 ? context.outside[i] : normalOf(i, via[i * n + j], j)[0]
  for (let gap = 2; gap < n; gap++) {
    if (n > 200) checkStop(work)
    for (let i = 0; i + gap < n; i++) {
      const k = i + gap
      let bestAngle = Infinity,
        bestArea = Infinity,
        best = -1
      const blocked = gap < n - 1 && context.joined(i, k)
      for (let m = i + 1; m < k; m++) {
        if ((via[i * n + m] === -1 && m > i + 1) || (via[m * n + k] === -1 && k > m + 1)) continue
        const [normal, a] = normalOf(i, m, k)
        let w = Math.max(angle[i * n + m], angle[m * n + k])
        w = Math.max(w, a > 0 ? bend(inner(i, m), normal) : 2, a > 0 ? bend(inner(m, k), normal) : 2)
        if (gap === n - 1) w = Math.max(w, bend(context.outside[n - 1], normal))
        // A doubled edge would be non-manifold: allowed only where nothing else is left.
        if (blocked) w += 10
        const s = area[i * n + m] + area[m * n + k] + a
        if (w < bestAngle - 1e-9 || (w < bestAngle + 1e-9 && s < bestArea)) {
          bestAngle = w
          bestArea = s
          best = m
        }
      }
      angle[i * n + k] = bestAngle
      area[i * n + k] = bestArea
      via[i * n + k] = best
    }
  }
  const out: number[] = []
  const stack: [number, number][] = [[0, n - 1]]
  while (stack.length) {
    const [i, k] = stack.pop()!
    if (k - i < 2) continue
    const m = via[i * n + k]
    if (m < 0) continue
    out.push(i, m, k)
    stack.push([i, m], [m, k])
  }
  return out
}

/** Splits a long rim by its best short chord and spans both halves. */
function halve(points: readonly Vec3[], context: RimContext, work: Work): number[] {
  const n = points.length
  const along = new Float64Array(n + 1)
  for (let i = 0; i < n; i++) along[i + 1] = along[i] + length(sub(points[(i + 1) % n], points[i]))
  const total = along[n]
  const step = Math.max(1, Math.floor(n / 400))
  let best = Infinity,
    bi = 0,
    bk = Math.floor(n / 2)
  for (let i = 0; i < n; i += step) {
    for (let k = i + Math.floor(n / 5); k < n && k - i <= n - Math.floor(n / 5); k += step) {
      if (context.joined(i, k)) continue
      const arc = Math.min(along[k] - along[i], total - (along[k] - along[i]))
      const chord = length(sub(points[i], points[k]))
      const score = chord / Math.max(arc, 1e-12) + 0.3 * Math.abs((k - i) / n - 0.5)
      if (score < best) {
        best = score
        bi = i
        bk = k
      }
    }
  }
  const part = (ids: number[]): number[] => {
    const sub2: RimContext = {
      outside: ids.map((id, x) => ((ids[(x + 1) % ids.length] - id + n) % n === 1 ? context.outside[id] : null)),
      joined: (i, j) => context.joined(ids[i], ids[j]),
    }
    return leastWeightTriangulation(
      ids.map((i) => points[i]),
      sub2,
      work,
    ).map((i) => ids[i])
  }
  const one = Array.from({ length: bk - bi + 1 }, (_, i) => bi + i)
  const two = Array.from({ length: n - (bk - bi) + 1 }, (_, i) => (bk + i) % n)
  return [...part(one), ...part(two)]
}
