/** A sheet of rows and columns laid on a skin: each of its places goes straight down on to it, and the smooth surface runs through them. */
import { StepError } from '@/core/base/step-error'
import { addScaled, cross, dot, type Vec3 } from '@/core/math/vec'
import { NearestInGrid } from '@/core/mesh/nearest'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Cage } from '@/core/subdivision/subdivide'
import { surfaceThrough } from './loft-cage'

export interface LayChoice {
  /** Middle of the sheet; `normal` away from the skin, `x` along its columns (unit, square to each other). */
  readonly at: Vec3
  readonly normal: Vec3
  readonly x: Vec3
  readonly width: number
  readonly depth: number
  readonly columns: number
  readonly rows: number
}

/**
 * How far above a plane the skin lies under each of some lines square to it: of the first skin met from outside that faces the same way.
 * Every triangle is drawn on to the lines it may cross.
 */
function heights(
  mesh: TriMesh,
  { at, normal, x, width, depth }: LayChoice,
  us: readonly number[],
  vs: readonly number[],
) {
  const y = cross(normal, x)
  const out = new Float64Array(us.length * vs.length).fill(-Infinity)
  const { positions: p, triangles } = mesh
  const flat = (v: number): Vec3 => {
    const d: Vec3 = [p[3 * v] - at[0], p[3 * v + 1] - at[1], p[3 * v + 2] - at[2]]
    return [dot(d, x), dot(d, y), dot(d, normal)]
  }
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [flat(triangles[t]), flat(triangles[t + 1]), flat(triangles[t + 2])]
    const det = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    // Skin that faces away is the far side.
    if (!(det > 0)) continue
    const low = [Math.min(a[0], b[0], c[0]), Math.min(a[1], b[1], c[1])]
    const high = [Math.max(a[0], b[0], c[0]), Math.max(a[1], b[1], c[1])]
    if (low[0] > width / 2 || high[0] < -width / 2 || low[1] > depth / 2 || high[1] < -depth / 2) continue
    us.forEach((u, i) => {
      if (u < low[0] || u > high[0]) return
      vs.forEach((v, j) => {
        if (v < low[1] || v > high[1]) return
        const s = ((u - a[0]) * (c[1] - a[1]) - (v - a[1]) * (c[0] - a[0])) / det
        const r = ((b[0] - a[0]) * (v - a[1]) - (b[1] - a[1]) * (u - a[0])) / det
        if (s < -1e-9 || r < -1e-9 || s + r > 1 + 1e-9) return
        const h = a[2] + s * (b[2] - a[2]) + r * (c[2] - a[2])
        const k = j * us.length + i
        if (h > out[k]) out[k] = h
      })
    })
  }
  return out
}

/** @returns the cage, and how many of its places had no skin under them @throws StepError `plane-misses` */
export function layOn(mesh: TriMesh, choice: LayChoice): { cage: Cage; missed: number } {
  const { at, normal, x, width, depth, columns, rows } = choice
  const y = cross(normal, x)
  const us = Array.from({ length: columns + 1 }, (_, i) => width * (i / columns - 0.5))
  const vs = Array.from({ length: rows + 1 }, (_, j) => depth * (j / rows - 0.5))
  const up = heights(mesh, choice, us, vs)
  const met = up.filter((h) => Number.isFinite(h))
  if (!met.length)
    throw new StepError('plane-misses', 'The sheet lies over no part of the body.', {
      tryThis: 'Click where it is to lie, or make it smaller.',
    })
  const grid = new NearestInGrid(mesh)
  let missed = 0
  const places = vs.map((v, j) =>
    us.map((u, i): Vec3 => {
      const on = addScaled(addScaled(at, x, u), y, v)
      const h = up[j * us.length + i]
      if (Number.isFinite(h)) return addScaled(on, normal, h)
      missed++
      // Beside the skin: to the nearest of it.
      const level = addScaled(on, normal, met.reduce((s, q) => s + q, 0) / met.length)
      grid.square(level[0], level[1], level[2])
      return [grid.x, grid.y, grid.z]
    }),
  )
  return { cage: surfaceThrough(places, false, false, false), missed }
}
