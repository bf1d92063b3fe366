/** Points of a cage moved, turned, scaled, pushed along their normals, flattened or straightened; others go with them by a soft reach. */
import { StepError } from '@/core/base/step-error'
import { symmetricEigen } from '@/core/math/eigen'
import { cross, dot, normalize, type Vec3 } from '@/core/math/vec'
import { spokesOf, type Cage } from '@/core/subdivision/subdivide'
import { need, pointAt, pointCount, pointNormals, pointsOf, topologyOf, type Picked } from './net'
import type { EditOf } from './schema'

export type MoveEdit = EditOf<'move' | 'push' | 'turn' | 'scale' | 'flatten' | 'straighten'>

/**
 * How much each point goes along: 1 for picked ones, less for those within reach along the edges of the cage (so that another skin close by
 * does not go with it), 0 for the others. The falloff is the smoothstep polynomial of Perlin 1985.
 */
export function weightsOf(cage: Cage, points: readonly number[], reach: number): Float64Array {
  const out = new Float64Array(pointCount(cage))
  for (const v of points) out[v] = 1
  if (!(reach > 0)) return out
  const { positions: p, quads } = cage
  const topology = topologyOf(cage)
  const away = new Float64Array(out.length).fill(Infinity)
  for (const v of points) away[v] = 0
  // Dijkstra from the border of what is picked; the front is short, so its nearest is looked for.
  const open = new Set<number>()
  for (const v of points)
    if (spokesOf(topology, v).some((h) => [1, 2, 3].some((c) => away[quads[(h & ~3) + ((h + c) & 3)]] > 0))) open.add(v)
  const step = (v: number, u: number) => {
    const d = away[v] + Math.hypot(p[3 * v] - p[3 * u], p[3 * v + 1] - p[3 * u + 1], p[3 * v + 2] - p[3 * u + 2])
    if (d < away[u] && d < reach) {
      away[u] = d
      open.add(u)
    }
  }
  while (open.size) {
    let v = -1
    for (const w of open) if (v < 0 || away[w] < away[v]) v = w
    open.delete(v)
    // Across faces as well: distances along edges alone lengthen diagonals.
    for (const h of spokesOf(topology, v)) for (const c of [1, 2, 3]) step(v, quads[(h & ~3) + ((h + c) & 3)])
  }
  away.forEach((d, v) => {
    if (d > 0 && d < reach) {
      const t = 1 - d / reach
      out[v] = t * t * (3 - 2 * t)
    }
  })
  return out
}

/** A place turned about an axis through a place, degrees (Rodrigues). */
function turned(x: Vec3, at: Vec3, axis: Vec3, degrees: number): Vec3 {
  const a = (degrees * Math.PI) / 180
  const r: Vec3 = [x[0] - at[0], x[1] - at[1], x[2] - at[2]]
  const c = cross(axis, r)
  const along = dot(axis, r) * (1 - Math.cos(a))
  return [0, 1, 2].map((k) => at[k] + r[k] * Math.cos(a) + c[k] * Math.sin(a) + axis[k] * along) as unknown as Vec3
}

/** Middle of some points, and their main directions, the narrowest first. */
function spread(cage: Cage, points: readonly number[]): { at: Vec3; axes: Vec3[] } {
  const at: Vec3 = [0, 1, 2].map(
    (k) => points.reduce((s, v) => s + cage.positions[3 * v + k], 0) / points.length,
  ) as unknown as Vec3
  const m = [0, 0, 0, 0, 0, 0]
  for (const v of points) {
    const [x, y, z] = pointAt(cage, v).map((c, k) => c - at[k])
    ;[x * x, x * y, x * z, y * y, y * z, z * z].forEach((c, i) => (m[i] += c))
  }
  return { at, axes: symmetricEigen(m).vectors }
}

/** Where each point goes. */
function moved(cage: Cage, picked: Picked, edit: MoveEdit): Float64Array {
  const points = pointsOf(cage, picked)
  need(points, 1, 'point', 'Moving')
  const out = Float64Array.from(cage.positions)
  const put = (v: number, to: readonly number[], w = 1) => {
    for (let k = 0; k < 3; k++) out[3 * v + k] += w * (to[k] - cage.positions[3 * v + k])
  }
  const soft = (to: (x: Vec3, v: number) => readonly number[], reach = 0) => {
    weightsOf(cage, points, reach).forEach((w, v) => {
      if (w > 0) put(v, to(pointAt(cage, v), v), w)
    })
  }
  switch (edit.do) {
    case 'move':
      soft((x) => x.map((c, k) => c + edit.by[k]), edit.reach)
      break
    case 'push': {
      const n = pointNormals(cage)
      soft((x, v) => x.map((c, k) => c + edit.distance * n[3 * v + k]), edit.reach)
      break
    }
    case 'turn': {
      if (!(Math.hypot(...edit.axis) > 0))
        throw new StepError('no-axis', 'The axis to turn about has no direction.', {
          tryThis: 'Give it one, as 0, 0, 1.',
        })
      const axis = normalize(edit.axis)
      // Each point turns by its share of the angle, so that a soft reach twists and does not shrink.
      weightsOf(cage, points, edit.reach ?? 0).forEach((w, v) => {
        if (w > 0) put(v, turned(pointAt(cage, v), edit.at, axis, w * edit.angle))
      })
      break
    }
    case 'scale':
      soft((x) => x.map((c, k) => edit.at[k] + edit.by[k] * (c - edit.at[k])), edit.reach)
      break
    case 'flatten': {
      need(points, 3, 'point', 'Flattening')
      const { at, axes } = spread(cage, points)
      const n = edit.normal && Math.hypot(...edit.normal) > 0 ? normalize(edit.normal) : axes[0]
      for (const v of points) {
        const x = pointAt(cage, v)
        const off = dot(n, [x[0] - at[0], x[1] - at[1], x[2] - at[2]])
        put(
          v,
          x.map((c, k) => c - off * n[k]),
        )
      }
      break
    }
    case 'straighten': {
      need(points, 3, 'point', 'Straightening')
      const { at, axes } = spread(cage, points)
      const d = axes[2]
      for (const v of points) {
        const x = pointAt(cage, v)
        const t = dot(d, [x[0] - at[0], x[1] - at[1], x[2] - at[2]])
        put(
          v,
          at.map((c, k) => c + t * d[k]),
        )
      }
    }
  }
  return out
}

const axisOf = { x: 0, y: 1, z: 2 } as const

/** The point that lies where each would, mirrored in the plane square to an axis at a place; -1 where none does. */
export function partners(cage: Cage, axis: 'x' | 'y' | 'z', within: number, at = 0): Int32Array {
  const k = axisOf[axis]
  const n = pointCount(cage)
  const out = new Int32Array(n).fill(-1)
  const cell = 4 * within
  const key = (x: readonly number[], d: readonly number[] = [0, 0, 0]) =>
    x.map((c, i) => Math.floor(c / cell) + d[i]).join()
  const table = new Map<string, number[]>()
  for (let v = 0; v < n; v++) {
    const at = key(pointAt(cage, v))
    table.set(at, [...(table.get(at) ?? []), v])
  }
  for (let v = 0; v < n; v++) {
    const x = pointAt(cage, v)
    x[k] = 2 * at - x[k]
    let least = within
    for (let d = 0; d < 27; d++)
      for (const u of table.get(key(x, [(d % 3) - 1, (((d / 3) | 0) % 3) - 1, ((d / 9) | 0) - 1])) ?? []) {
        const off = Math.hypot(...pointAt(cage, u).map((c, i) => c - x[i]))
        if (off <= least) {
          least = off
          out[v] = u
        }
      }
  }
  return out
}

/** Points count as each other's mirror image within this, mm. */
export const mirrorWithin = 0.01

/** @throws StepError `no-pick`, `no-axis` */
export function moveCage(cage: Cage, picked: Picked, edit: MoveEdit): Cage {
  const to = moved(cage, picked, edit)
  if (!edit.symmetric) return { ...cage, positions: to }
  const k = axisOf[edit.symmetric]
  const pair = partners(cage, edit.symmetric, mirrorWithin, edit.symmetricAt)
  const { positions: p } = cage
  const by = (v: number, mirror: boolean) =>
    [0, 1, 2].map((i) => (to[3 * v + i] - p[3 * v + i]) * (mirror && i === k ? -1 : 1))
  const out = Float64Array.from(to)
  for (let v = 0; v < pair.length; v++) {
    const u = pair[v]
    if (u < 0) continue
    const own = by(v, false)
    const other = by(u, true)
    // In the plane both sides ask for the same but across it; elsewhere the one that is asked for more is meant.
    const d = u === v ? own.map((c, i) => (i === k ? 0 : c)) : Math.hypot(...other) > Math.hypot(...own) ? other : own
    for (let i = 0; i < 3; i++) out[3 * v + i] = p[3 * v + i] + d[i]
  }
  return { ...cage, positions: out }
}
